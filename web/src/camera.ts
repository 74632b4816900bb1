// How the course lies on the screen: shared by maps that stand beside each other.

import type { Point } from "./data.js";

export interface KeptCamera {
  scale: number;
  x: number;
  y: number;
  follows: boolean;
  isFitted: boolean;
}

export class Camera {
  scale = 0;
  x = 0;
  y = 0;
  /** Whether the robot is kept in the middle. */
  follows = false;
  private isFitted = true;
  private listeners: (() => void)[] = [];

  constructor(
    readonly width_mm: number,
    readonly height_mm: number,
  ) {}

  onChange(listener: () => void): void {
    this.listeners.push(listener);
  }

  private tell(): void {
    for (const listener of this.listeners) {
      listener();
    }
  }

  /** The whole course on a screen of this size. */
  fit(width: number, height: number): void {
    const room = 14;
    this.scale = Math.max(1e-4, Math.min((width - 2 * room) / this.width_mm, (height - 2 * room) / this.height_mm));
    this.x = (width - this.scale * this.width_mm) / 2;
    this.y = (height - this.scale * this.height_mm) / 2;
    this.isFitted = true;
    this.tell();
  }

  /** The screen has another size now. */
  resized(width: number, height: number): void {
    if (this.scale === 0 || this.isFitted) {
      this.fit(width, height);
    } else {
      this.tell();
    }
  }

  zoom(by: number, around: Point): void {
    const scale = Math.min(Math.max(this.scale * by, 0.02), 20);
    const ratio = scale / this.scale;
    this.x = around[0] - ratio * (around[0] - this.x);
    this.y = around[1] - ratio * (around[1] - this.y);
    this.scale = scale;
    this.isFitted = false;
    this.tell();
  }

  pan(dx: number, dy: number): void {
    this.x += dx;
    this.y += dy;
    this.isFitted = false;
    this.tell();
  }

  /** Brings a point of the course to a point of the screen. */
  centre(at: Point, on: Point): void {
    this.x = on[0] - this.scale * at[0];
    this.y = on[1] - this.scale * at[1];
    this.isFitted = false;
    this.tell();
  }

  /** As it lies, for a page that takes the place of this one. */
  keep(): KeptCamera {
    return { scale: this.scale, x: this.x, y: this.y, follows: this.follows, isFitted: this.isFitted };
  }

  take(kept: KeptCamera): void {
    this.follows = kept.follows;
    if (!kept.isFitted) {
      Object.assign(this, { scale: kept.scale, x: kept.x, y: kept.y });
      this.isFitted = false;
      this.tell();
    }
  }

  onScreen(at: Point): Point {
    return [this.x + this.scale * at[0], this.y + this.scale * at[1]];
  }

  onCourse(at: Point): Point {
    return [(at[0] - this.x) / this.scale, (at[1] - this.y) / this.scale];
  }
}
