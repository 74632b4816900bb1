// The moment that the page shows, and how it goes on.

type Listener = (t: number) => void;

export const speeds = [0.1, 0.25, 0.5, 1, 2, 4, 8, 16] as const;

export class Player {
  t = 0;
  speed = 1;
  /** 1 forward, -1 backwards. */
  direction = 1;
  isPlaying = false;
  private listeners: Listener[] = [];
  private changed: (() => void)[] = [];
  private last = 0;

  constructor(readonly end: number) {}

  /** Told at each moment that is shown. */
  onMoment(listener: Listener): void {
    this.listeners.push(listener);
  }

  /** Told when it begins, stops, or goes otherwise. */
  onChange(listener: () => void): void {
    this.changed.push(listener);
  }

  go(t: number): void {
    this.t = Math.min(Math.max(t, 0), this.end);
    for (const listener of this.listeners) {
      listener(this.t);
    }
  }

  play(): void {
    if (this.isPlaying) {
      return;
    }
    if (this.direction > 0 && this.t >= this.end) {
      this.go(0);
    } else if (this.direction < 0 && this.t <= 0) {
      this.go(this.end);
    }
    this.isPlaying = true;
    this.last = 0;
    this.tell();
    requestAnimationFrame(this.step);
  }

  pause(): void {
    if (this.isPlaying) {
      this.isPlaying = false;
      this.tell();
    }
  }

  toggle(): void {
    if (this.isPlaying) {
      this.pause();
    } else {
      this.play();
    }
  }

  set(speed: number, direction: number): void {
    this.speed = speed;
    this.direction = direction;
    this.tell();
  }

  /** The next faster or slower speed. */
  faster(by: 1 | -1): void {
    const at = speeds.findIndex((speed) => speed === this.speed);
    this.set(speeds[Math.min(Math.max(at + by, 0), speeds.length - 1)]!, this.direction);
  }

  private tell(): void {
    for (const listener of this.changed) {
      listener();
    }
  }

  private readonly step = (now: number): void => {
    if (!this.isPlaying) {
      return;
    }
    // A page that was hidden goes on from where it was.
    const seconds = this.last === 0 ? 0 : Math.min((now - this.last) / 1000, 0.25);
    this.last = now;
    this.go(this.t + seconds * this.speed * this.direction);
    if ((this.direction > 0 && this.t >= this.end) || (this.direction < 0 && this.t <= 0)) {
      this.pause();
    } else {
      requestAnimationFrame(this.step);
    }
  };
}
