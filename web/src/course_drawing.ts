// The course with everything on it.

import type { Camera } from "./camera.js";
import type { CourseGiven, Point } from "./data.js";
import { make } from "./dom.js";
import { own } from "./inks.js";

type Context = CanvasRenderingContext2D;

const paper = "rgba(250,250,246,0.85)";
const text = "#262c28";
const fern = "#267048";
const alarm = "#ba2834";
const graph = "#c05010";

/** Words with a light rim, to be readable on anything. */
function write(context: Context, words: string, at: Point, colour: string, font: string): void {
  context.font = font;
  context.lineJoin = "round";
  context.lineWidth = 4;
  context.strokeStyle = paper;
  context.strokeText(words, at[0], at[1]);
  context.fillStyle = colour;
  context.fillText(words, at[0], at[1]);
}

const square = 8;

type Box = [number, number, number, number];

/** Writes words beside points so that they keep clear of one another where there is room. */
export class Labels {
  private readonly taken: Box[] = [];
  /** Squares of the screen that words had better not cover. */
  private readonly squares: Uint8Array;
  private readonly across: number;

  constructor(
    private readonly context: Context,
    private readonly width: number,
    private readonly height: number,
  ) {
    this.across = Math.ceil(width / square) + 1;
    this.squares = new Uint8Array(this.across * (Math.ceil(height / square) + 1));
    this.taken.push([0, height - 30, 190, height]); // the scale's
  }

  /** Beside a point, `gap` away from it: right of it unless that is taken. */
  add(words: string, at: Point, gap: number, colour: string, font: string): void {
    this.context.font = font;
    const wide = this.context.measureText(words).width;
    const high = 15;
    const corners: Point[] = [
      [gap, -high / 2], [-gap - wide, -high / 2],
      [-wide / 2, gap], [-wide / 2, -gap - high],
      [0.7 * gap, 0.7 * gap], [0.7 * gap, -0.7 * gap - high],
      [-0.7 * gap - wide, 0.7 * gap], [-0.7 * gap - wide, -0.7 * gap - high],
      [-wide / 2, gap + high + 2], [-wide / 2, -gap - 2 * high - 2],
    ];
    let best: Box = [0, 0, 0, 0];
    let least = Number.POSITIVE_INFINITY;
    for (const [dx, dy] of corners) {
      const box: Box = [at[0] + dx, at[1] + dy, at[0] + dx + wide, at[1] + dy + high];
      const cost = this.cost(box);
      if (cost < least) {
        least = cost;
        best = box;
      }
    }
    this.taken.push(best);
    write(this.context, words, [best[0], best[3] - 3], colour, font);
  }

  /** Keeps words off a point of the screen where there is room. */
  keepOff(x: number, y: number): void {
    if (x >= 0 && y >= 0 && x < this.width && y < this.height) {
      this.squares[Math.floor(y / square) * this.across + Math.floor(x / square)] = 1;
    }
  }

  private covered(box: Box): number {
    let sum = 0;
    for (let row = Math.max(0, Math.floor(box[1] / square)); row <= Math.floor(Math.min(box[3], this.height) / square); ++row) {
      for (let column = Math.max(0, Math.floor(box[0] / square)); column <= Math.floor(Math.min(box[2], this.width) / square); ++column) {
        sum += this.squares[row * this.across + column]!;
      }
    }
    return sum;
  }

  private cost(box: Box): number {
    const off = box[0] < 2 || box[1] < 2 || box[2] > this.width - 2 || box[3] > this.height - 2 ? 5000 : 0;
    return this.taken.reduce((sum, other) => {
      const across = Math.min(box[2], other[2]) - Math.max(box[0], other[0]);
      const down = Math.min(box[3], other[3]) - Math.max(box[1], other[1]);
      return sum + (across > 0 && down > 0 ? 100 + across * down : 0);
    }, off + 25 * this.covered(box));
  }
}

function line(context: Context, points: Point[], close = false): void {
  context.beginPath();
  points.forEach((p, i) => (i === 0 ? context.moveTo(p[0], p[1]) : context.lineTo(p[0], p[1])));
  if (close) {
    context.closePath();
  }
}

/** A circle, to be stroked or filled. */
export function ring(context: Context, at: Point, radius: number): void {
  context.beginPath();
  context.arc(at[0], at[1], radius, 0, 2 * Math.PI);
}

/** The floor's picture, a pixel a cell, and where something lies on it. */
export interface Floor {
  picture: CanvasImageSource;
  painted: Point[];
}

/** Points of the course, in mm, at which something lies on the floor: what differs from the colour that most of it has. */
export function paintedPoints(course: CourseGiven, floor: CanvasImageSource): Point[] {
  const width = 220;
  const height = Math.max(1, Math.round((width * course.height_mm) / course.width_mm));
  const context = make("canvas", { width, height }).getContext("2d", { willReadFrequently: true });
  if (context === null) {
    return [];
  }
  context.imageSmoothingEnabled = false; // a point of each place is enough, and quick
  context.drawImage(floor, 0, 0, width, height);
  const all = context.getImageData(0, 0, width, height).data;
  const count = new Map<number, number>();
  const colours: number[] = [];
  for (let i = 0; i < all.length; i += 4) {
    // Coarsely: a photograph has no two points alike.
    const colour = ((all[i]! >> 5) << 10) | ((all[i + 1]! >> 5) << 5) | (all[i + 2]! >> 5);
    colours.push(colour);
    count.set(colour, (count.get(colour) ?? 0) + 1);
  }
  const most = [...count].reduce((best, one) => (one[1] > best[1] ? one : best))[0];
  return colours.flatMap((colour, i): Point[] =>
    colour === most ? [] : [[(((i % width) + 0.5) * course.width_mm) / width, ((Math.floor(i / width) + 0.5) * course.height_mm) / height]]);
}

/** What lies under the ways of robots. */
export function drawFloor(context: Context, camera: Camera, course: CourseGiven, floor: CanvasImageSource): void {
  const [x, y] = camera.onScreen([0, 0]);
  const width = camera.scale * course.width_mm;
  const height = camera.scale * course.height_mm;
  context.imageSmoothingEnabled = camera.scale * course.cell_mm < 3;
  context.imageSmoothingQuality = "medium";
  context.drawImage(floor, x, y, width, height);
  context.strokeStyle = own("edge");
  context.lineWidth = 1;
  context.strokeRect(x, y, width, height);
}

function drawThings(context: Context, camera: Camera, course: CourseGiven, labels: Labels): void {
  context.strokeStyle = text;
  for (const wall of course.walls) {
    line(context, wall.map((p) => camera.onScreen(p)));
    context.lineWidth = 4;
    context.stroke();
  }
  for (const iron of course.irons) {
    const [x, y] = camera.onScreen(iron);
    context.fillStyle = text;
    context.fillRect(x - 5, y - 5, 10, 10);
    labels.add("iron", [x, y], 9, text, "12px sans-serif");
  }
  for (const lamp of course.lamps) {
    const [x, y] = camera.onScreen(lamp);
    ring(context, [x, y], 8);
    context.strokeStyle = alarm;
    context.lineWidth = 2;
    context.stroke();
    labels.add("lamp", [x, y], 12, alarm, "12px sans-serif");
  }
  for (const thing of course.things) {
    const corners = thing.corners.map((p) => camera.onScreen(p));
    line(context, corners, true);
    context.fillStyle = "rgba(90,110,130,0.6)";
    context.fill();
    context.lineWidth = 1.2;
    context.strokeStyle = text;
    context.stroke();
    const middle: Point = [0, 1].map((axis) => corners.reduce((sum, p) => sum + p[axis]! / corners.length, 0)) as Point;
    const half = Math.max(...corners.map((p) => Math.max(Math.abs(p[0] - middle[0]), Math.abs(p[1] - middle[1]))));
    const when = thing.when === "" ? "" : ` (${thing.when})`;
    labels.add(thing.name + when, middle, half + 5, text, "12px sans-serif");
  }
}

function drawPlaces(context: Context, camera: Camera, course: CourseGiven, labels: Labels): void {
  for (const gap of course.gaps) {
    line(context, gap.map((p) => camera.onScreen(p)));
    context.setLineDash([6, 5]);
    context.lineWidth = 2.5;
    context.strokeStyle = graph;
    context.stroke();
    context.setLineDash([]);
  }
  const places = new Set(course.places.map((place) => place.name));
  for (const junction of course.junctions) {
    const [x, y] = camera.onScreen(junction.at);
    ring(context, [x, y], 9);
    context.lineWidth = 3;
    context.strokeStyle = graph;
    context.stroke();
    if (!places.has(junction.name)) {
      labels.add(junction.name, [x, y], 13, graph, "bold 13px sans-serif");
    }
  }
  for (const place of course.places) {
    const [x, y] = camera.onScreen(place.at);
    const radius = camera.scale * place.radius_mm;
    ring(context, [x, y], radius);
    context.setLineDash([5, 4]);
    context.lineWidth = 1.8;
    context.strokeStyle = fern;
    context.stroke();
    context.setLineDash([]);
    labels.add(place.name, [x, y], radius + 6, fern, "bold 14px sans-serif");
  }
  for (const start of course.starts) {
    const [x, y] = camera.onScreen(start.at);
    const heading = (start.heading_deg * Math.PI) / 180;
    const [dx, dy] = [Math.cos(heading), -Math.sin(heading)];
    ring(context, [x, y], 5);
    context.fillStyle = alarm;
    context.fill();
    line(context, [[x, y], [x + 28 * dx, y + 28 * dy]]);
    context.lineWidth = 3;
    context.strokeStyle = alarm;
    context.stroke();
    line(context, [
      [x + 36 * dx, y + 36 * dy],
      [x + 25 * dx - 6 * dy, y + 25 * dy + 6 * dx],
      [x + 25 * dx + 6 * dy, y + 25 * dy - 6 * dx],
    ]);
    context.fill();
    labels.add(start.name, [x, y], 14, alarm, "bold 14px sans-serif");
  }
}

/** A length that is one, two or five times a power of ten. */
export function roundLength(about: number): number {
  const power = 10 ** Math.floor(Math.log10(about));
  const times = about / power;
  return power * (times >= 5 ? 5 : times >= 2 ? 2 : 1);
}

function drawScale(context: Context, camera: Camera, height: number): void {
  const mm = roundLength(160 / camera.scale);
  const [x, y] = [16, height - 16];
  const long = mm * camera.scale;
  context.lineWidth = 5;
  context.strokeStyle = paper;
  line(context, [[x, y], [x + long, y]]);
  context.stroke();
  context.lineWidth = 2;
  context.strokeStyle = text;
  line(context, [[x, y - 5], [x, y], [x + long, y], [x + long, y - 5]]);
  context.stroke();
  write(context, `${mm} mm`, [x + long + 6, y + 1], text, "12px sans-serif");
}

/** What is written and drawn over them. */
export function drawSigns(context: Context, camera: Camera, course: CourseGiven, labels: Labels, height: number): void {
  drawThings(context, camera, course, labels);
  drawPlaces(context, camera, course, labels);
  drawScale(context, camera, height);
}
