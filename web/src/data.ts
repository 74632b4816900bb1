// What a page is given, and its numbers unpacked.

import { type Spell, spells } from "./path.js";

export type Point = [number, number];

export interface Packed {
  names: string[];
  steps: number[];
  rows: number;
  bytes: number;
  packed: string;
}

export interface Rule {
  line: number;
  condition: string;
  acts: string;
  mirrored: boolean;
}

export interface Quantity {
  name: string;
  unit: string;
  condition: boolean;
  asked: boolean;
  column: string;
}

export type MomentKind = "start" | "place" | "junction" | "said" | "lost" | "unanswered" | "touched" | "end";

export interface Moment {
  t: number;
  kind: MomentKind;
  text: string;
}

export interface RunGiven {
  name: string;
  file: string;
  start: string;
  seed: number;
  day: number;
  ended: string;
  because: string;
  time_s: number;
  way_mm: number;
  unanswered: number;
  end_at: Point;
  text: string;
  rules: Rule[];
  markers: string[];
  thresholds: number[];
  hands: [string, number][][];
  quantities: Quantity[];
  moments: Moment[];
  looks: Packed;
  apart: { t: number; way_t: number | null; most_mm: number } | null;
}

export interface CourseGiven {
  name: string;
  variant: string;
  width_mm: number;
  height_mm: number;
  floor: string;
  cell_mm: number;
  starts: { name: string; at: Point; heading_deg: number }[];
  places: { name: string; at: Point; radius_mm: number }[];
  things: { name: string; corners: Point[]; when: string }[];
  walls: [Point, Point][];
  lamps: Point[];
  irons: Point[];
  junctions: { name: string; at: Point }[];
  gaps: Point[][];
}

export interface RobotGiven {
  name: string;
  track_mm: number;
  sensors: { at: Point; spot_mm: number }[];
}

export interface PageGiven {
  title: string;
  course: CourseGiven;
  robot: RobotGiven;
  runs: RunGiven[];
  documents: { trips: unknown; routes: unknown; comparison: unknown; findings: unknown };
  problems: { text: string }[];
  changes_at: string;
}

const missing = -2147483648;

function bytesOf(base64: string): Uint8Array<ArrayBuffer> {
  const text = atob(base64);
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; ++i) {
    bytes[i] = text.charCodeAt(i);
  }
  return bytes;
}

async function inflated(bytes: Uint8Array<ArrayBuffer>): Promise<Uint8Array> {
  const stream = new Blob([bytes]).stream().pipeThrough(new DecompressionStream("deflate"));
  return new Uint8Array(await new Response(stream).arrayBuffer());
}

/** Columns by name: differences (zigzag, seven bits a byte), deflated. What was no number is NaN. */
export async function unpacked(given: Packed): Promise<Map<string, Float64Array>> {
  const bytes = await inflated(bytesOf(given.packed));
  if (bytes.length !== given.bytes) {
    throw new Error("the numbers of this page are not whole: it was changed or cut short");
  }
  const columns = new Map<string, Float64Array>();
  let at = 0;
  given.names.forEach((name, c) => {
    const step = given.steps[c]!;
    const values = new Float64Array(given.rows);
    let sum = 0;
    for (let row = 0; row < given.rows; ++row) {
      let part = bytes[at++]!;
      if (part < 0x80) {
        sum += (part >> 1) ^ -(part & 1);
      } else {
        let rest = part & 0x7f;
        let scale = 128;
        do {
          part = bytes[at++]!;
          rest += (part & 0x7f) * scale;
          scale *= 128;
        } while (part >= 0x80);
        sum += rest % 2 === 0 ? rest / 2 : -(rest + 1) / 2;
      }
      values[row] = sum === missing ? Number.NaN : sum * step;
    }
    columns.set(name, values);
  });
  return columns;
}

/** A run with its numbers. */
export class Run {
  /** At least 1: of a run that ended before its first look all columns have one row, where it ended. */
  readonly looks: number;
  readonly hasLooks: boolean;
  readonly t: Float64Array;
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly facing: Float64Array;
  readonly left: Float64Array;
  readonly right: Float64Array;
  readonly line: Float64Array;
  readonly rule: Float64Array;
  readonly blocks: Float64Array;
  readonly sensors: Float64Array[];
  /** How far the robot has come at most; grows. */
  readonly farthest: Float64Array;
  /** Stretches on which one rule acts, and the rules' colours, which are chosen for all runs together. */
  readonly spells: Spell[];
  ruleInks = new Map<number, string>();

  constructor(
    readonly given: RunGiven,
    readonly columns: Map<string, Float64Array>,
  ) {
    this.hasLooks = given.looks.rows > 0;
    if (!this.hasLooks) {
      const known = new Map([["t", 0], ["x", given.end_at[0]], ["y", given.end_at[1]], ["way", 0], ["line", 0], ["markers", 0], ["rule", -1], ["blocks", 0]]);
      given.looks.names.forEach((name) => columns.set(name, Float64Array.of(known.get(name) ?? Number.NaN)));
    }
    this.t = this.column("t");
    this.x = this.column("x");
    this.y = this.column("y");
    this.facing = this.column("facing");
    this.left = this.column("left");
    this.right = this.column("right");
    this.line = this.column("line");
    this.rule = this.column("rule");
    this.blocks = this.column("blocks");
    this.looks = this.t.length;
    this.sensors = given.looks.names.filter((name) => name.startsWith("sensor ")).map((name) => this.column(name));
    this.spells = spells(this.rule);
    const way = this.column("way");
    this.farthest = new Float64Array(way.length);
    let most = 0;
    way.forEach((value, i) => {
      most = Math.max(most, value);
      this.farthest[i] = most;
    });
  }

  column(name: string): Float64Array {
    return this.columns.get(name) ?? new Float64Array(this.t?.length ?? 0);
  }

  /** The last look at or before a time; the first before it. */
  at(t: number): number {
    return lastNotAbove(this.t, t + 1e-6);
  }

  isOver(t: number): boolean {
    return t >= this.given.time_s - 1e-6;
  }

  /** What the array sees, as plans write it. */
  pattern(look: number): string {
    const bits = this.line[look] ?? 0;
    return this.sensors.map((_, i) => ((bits >> i) & 1 ? "#" : ".")).join("");
  }

  /** The rule that acts, or nothing where none held. */
  acting(look: number): Rule | undefined {
    const rule = this.rule[look] ?? -1;
    return rule < 0 ? undefined : this.given.rules[rule];
  }

  hands(look: number): [string, number][] {
    return this.given.hands[this.blocks[look] ?? 0] ?? [];
  }

  /** Names of the colours that the robot sees. */
  markers(look: number): string[] {
    const bits = this.column("markers")[look] ?? 0;
    return this.given.markers.filter((_, i) => (bits >> i) & 1);
  }
}

/** The number of the last of growing values that is not above one; 0 when all are. */
export function lastNotAbove(values: Float64Array, most: number): number {
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (values[middle]! <= most) {
      low = middle;
    } else {
      high = middle - 1;
    }
  }
  return low;
}
