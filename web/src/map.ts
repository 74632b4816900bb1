// A map: the course, the ways of runs, and their robots at the moment.

import type { Camera } from "./camera.js";
import { drawFloor, drawSigns, type Floor, Labels, ring } from "./course_drawing.js";
import type { PageGiven, Point, Run } from "./data.js";
import { make, paperPicture, sharpen } from "./dom.js";
import { letter, otherRule, runInk } from "./inks.js";
import { simplified } from "./path.js";
import type { Player } from "./player.js";

/** A run's way as it is drawn. */
interface Way {
  run: Run;
  number: number;
  parts: { rule: number; from: number; points: number[] }[];
  byRule: Map<number, Way["parts"]>;
}

const off_mm = 0.4;

function wayOf(run: Run, number: number): Way {
  const parts = run.spells.map(({ rule, from, to }) => ({
    rule,
    from,
    points: simplified(run.x, run.y, from, Math.min(to + 1, run.looks - 1), off_mm),
  }));
  const byRule = new Map<number, Way["parts"]>();
  for (const part of parts) {
    const own = byRule.get(part.rule);
    if (own === undefined) {
      byRule.set(part.rule, [part]);
    } else {
      own.push(part);
    }
  }
  return { run, number, parts, byRule };
}

export class CourseMap {
  readonly element: HTMLElement;
  private readonly base = make("canvas", { "aria-hidden": "true" });
  private readonly above = make("canvas", { class: "above", "aria-hidden": "true" });
  private readonly ways: Way[];
  private width = 0;
  private height = 0;
  private isDue = false;
  private selected = 0;
  private robots: CanvasRenderingContext2D | null = null;

  constructor(
    private readonly page: PageGiven,
    runs: { run: Run; number: number }[],
    private readonly floor: Floor,
    private readonly camera: Camera,
    private readonly player: Player,
    name: string,
  ) {
    this.ways = runs.map(({ run, number }) => wayOf(run, number));
    this.element = make(
      "div",
      {
        class: "map",
        tabindex: 0,
        role: "application",
        "aria-roledescription": "map",
        "aria-label": `${name}. Plus and minus zoom, 0 shows all of it; drag, or arrows with Alt, move it.`,
      },
      this.base,
      this.above,
    );
    this.element.style.setProperty("--aspect", String(page.course.width_mm / page.course.height_mm));
    new ResizeObserver(() => this.resize()).observe(this.element);
    camera.onChange(() => this.due());
    player.onMoment(() => this.drawRobots());
    this.listen();
  }

  /** The run that is followed: it lies over the others. */
  select(number: number): void {
    if (number !== this.selected) {
      this.selected = number;
      this.due();
    }
  }

  /** With the one that is followed last. */
  private inOrder(): Way[] {
    return [...this.ways].sort((a, b) => Number(a.number === this.selected) - Number(b.number === this.selected));
  }

  /** Fits the course into it. */
  fit(): void {
    this.camera.fit(this.width, this.height);
  }

  zoom(by: number): void {
    this.camera.zoom(by, [this.width / 2, this.height / 2]);
  }

  /** Draws it anew before the next picture. */
  due(): void {
    if (!this.isDue) {
      this.isDue = true;
      requestAnimationFrame(() => this.draw());
    }
  }

  /** At once: what is printed waits for no picture. */
  draw(): void {
    this.isDue = false;
    if (this.width === 0) {
      return;
    }
    const context = sharpen(this.base, this.width, this.height);
    const labels = new Labels(context, this.width, this.height);
    drawFloor(context, this.camera, this.page.course, this.floor.picture);
    for (const way of this.inOrder()) {
      this.drawWay(context, way);
    }
    this.keepOffAll(labels);
    drawSigns(context, this.camera, this.page.course, labels, this.height);
    for (const way of this.inOrder().reverse()) {
      this.drawEnd(context, way, labels);
    }
    if (this.ways.length === 1 && this.ways[0]!.run.hasLooks) {
      this.numberRules(this.ways[0]!, labels);
    }
    this.robots = sharpen(this.above, this.width, this.height);
    this.drawRobots();
  }

  onPaper(): void {
    this.draw();
    paperPicture([this.base, this.above], this.element);
  }

  private resize(): void {
    const width = this.element.clientWidth;
    const height = this.element.clientHeight;
    if (width > 0 && height > 0 && (width !== this.width || height !== this.height)) {
      this.width = width;
      this.height = height;
      this.camera.resized(width, height);
    }
  }

  /** Strokes parts of a way at once: thousands of strokes take long. Points that fall onto one another are left out. */
  private trace(context: CanvasRenderingContext2D, run: Run, parts: Way["parts"]): void {
    const { scale, x: left, y: top } = this.camera;
    context.beginPath();
    let end = -1;
    let [lastX, lastY] = [0, 0];
    for (const part of parts) {
      for (const look of part.points) {
        const x = left + scale * run.x[look]!;
        const y = top + scale * run.y[look]!;
        if (look === part.from && look !== end) {
          context.moveTo(x, y);
        } else if (Math.abs(x - lastX) + Math.abs(y - lastY) < 0.7 && look !== part.points.at(-1)) {
          continue;
        } else {
          context.lineTo(x, y);
        }
        [lastX, lastY] = [x, y];
      }
      end = part.points.at(-1) ?? -1;
    }
    context.stroke();
  }

  private drawWay(context: CanvasRenderingContext2D, way: Way): void {
    const { run } = way;
    const isAlone = this.ways.length === 1;
    context.lineJoin = "round";
    context.lineCap = "round";
    context.lineWidth = 6;
    context.strokeStyle = "rgba(250,250,246,0.8)";
    this.trace(context, run, way.parts);
    const ink = runInk(way.number);
    context.lineWidth = !isAlone && way.number === this.selected ? 4.4 : 3.2;
    context.lineCap = isAlone ? "round" : "butt";
    if (isAlone) {
      for (const [rule, parts] of way.byRule) {
        context.strokeStyle = run.ruleInks.get(rule) ?? otherRule;
        this.trace(context, run, parts);
      }
    } else {
      context.strokeStyle = ink.colour;
      context.setLineDash(ink.dash);
      this.trace(context, run, way.parts);
      context.setLineDash([]);
    }
  }

  private keepOffAll(labels: Labels): void {
    const { scale, x, y } = this.camera;
    for (const [px, py] of this.floor.painted) {
      labels.keepOff(x + scale * px, y + scale * py);
    }
    for (const { run } of this.ways) {
      for (let look = 0; look < run.looks; ++look) {
        labels.keepOff(x + scale * run.x[look]!, y + scale * run.y[look]!);
      }
    }
  }

  /** Where a run ended, and where it parted from the first. */
  private drawEnd(context: CanvasRenderingContext2D, way: Way, labels: Labels): void {
    const { given } = way.run;
    const isAlone = this.ways.length === 1;
    const colour = isAlone ? "#ba2834" : runInk(way.number).colour;
    const [x, y] = this.camera.onScreen(given.end_at);
    context.lineWidth = 3;
    context.strokeStyle = colour;
    context.beginPath();
    context.moveTo(x - 6, y - 6);
    context.lineTo(x + 6, y + 6);
    context.moveTo(x - 6, y + 6);
    context.lineTo(x + 6, y - 6);
    context.stroke();
    // Of many runs only the one that is followed is told in words.
    const isTold = this.ways.length <= 4 || way.number === this.selected;
    const name = isAlone ? "" : `${letter(way.number)}: `;
    const words = isTold ? `${name}${given.ended}, ${given.time_s.toFixed(2)} s` : letter(way.number);
    labels.add(words, [x, y], 12, colour, "bold 13px sans-serif");
    if (given.apart !== null && !isAlone && isTold) {
      const look = way.run.at(given.apart.way_t ?? given.apart.t);
      const at = this.camera.onScreen([way.run.x[look]!, way.run.y[look]!]);
      ring(context, at, 7);
      context.lineWidth = 2;
      context.stroke();
      labels.add(`${letter(way.number)} parts`, at, 10, colour, "12px sans-serif");
    }
  }

  /** The plan's line beside each stretch that is long enough, so that no colour alone tells it. */
  private numberRules(way: Way, labels: Labels): void {
    const taken: Point[] = [];
    for (const part of way.parts) {
      const rule = way.run.given.rules[part.rule];
      const look = part.points[part.points.length >> 1]!;
      const at = this.camera.onScreen([way.run.x[look]!, way.run.y[look]!]);
      const isNear = taken.some((other) => Math.hypot(other[0] - at[0], other[1] - at[1]) < 46);
      if (!isNear) {
        taken.push(at);
        const ink = way.run.ruleInks.get(part.rule) ?? otherRule;
        labels.add(rule === undefined ? "no rule" : String(rule.line), at, 7, ink, "bold 11px sans-serif");
      }
    }
  }

  private drawRobots(): void {
    const context = this.robots;
    if (context === null || this.element.offsetParent === null) {
      return;
    }
    if (this.camera.follows) {
      const first = this.inOrder().at(-1)!;
      const look = first.run.at(this.player.t);
      const at = this.camera.onScreen([first.run.x[look]!, first.run.y[look]!]);
      if (Math.hypot(at[0] - this.width / 2, at[1] - this.height / 2) > 1) {
        this.camera.centre([first.run.x[look]!, first.run.y[look]!], [this.width / 2, this.height / 2]);
      }
    }
    context.clearRect(0, 0, this.width, this.height);
    for (const way of this.inOrder().filter(({ run }) => run.hasLooks)) {
      this.drawRobot(context, way);
    }
  }

  private drawRobot(context: CanvasRenderingContext2D, way: Way): void {
    const { run } = way;
    const look = run.at(this.player.t);
    const at: Point = [run.x[look]!, run.y[look]!];
    const heading = (run.facing[look]! * Math.PI) / 180;
    const [ax, ay] = [Math.cos(heading), -Math.sin(heading)];
    const place = (p: Point): Point => this.camera.onScreen([at[0] + p[0] * ax + p[1] * ay, at[1] + p[0] * ay - p[1] * ax]);
    const half = this.page.robot.track_mm / 2;
    const sensors = this.page.robot.sensors;
    const nose: Point = [sensors.reduce((sum, s) => sum + s.at[0] / sensors.length, 0), 0];
    const ink = runInk(way.number).colour;
    const stroke = (a: Point, b: Point, width: number, colour: string): void => {
      context.beginPath();
      context.moveTo(...place(a));
      context.lineTo(...place(b));
      context.lineWidth = width;
      context.strokeStyle = colour;
      context.stroke();
    };
    context.lineCap = "round";
    const frame = this.ways.length === 1 ? "#262c28" : ink;
    stroke([0, half], [0, -half], 9, "rgba(250,250,246,0.8)");
    stroke([0, half], [0, -half], 5, frame);
    stroke([0, 0], nose, 2.5, frame);
    const wheel = Math.max(8 / this.camera.scale, 14);
    stroke([wheel, half], [-wheel, half], 5, frame);
    stroke([wheel, -half], [-wheel, -half], 5, frame);
    const bits = run.line[look]!;
    sensors.forEach((sensor, i) => {
      const spot = place(sensor.at);
      const radius = Math.max(3.5, (this.camera.scale * sensor.spot_mm) / 2 + 1);
      ring(context, spot, radius + 1.5);
      context.fillStyle = "rgba(250,250,246,0.95)";
      context.fill();
      ring(context, spot, radius);
      context.lineWidth = 2;
      context.strokeStyle = "#ba2834";
      context.stroke();
      if ((bits >> i) & 1) {
        context.fillStyle = "#ba2834";
        context.fill();
      }
    });
    if (this.ways.length > 1) {
      const [x, y] = place([-2 * wheel, 0]);
      context.font = "bold 15px sans-serif";
      context.lineWidth = 4;
      context.strokeStyle = "rgba(250,250,246,0.85)";
      context.strokeText(letter(way.number), x - 5, y + 5);
      context.fillStyle = ink;
      context.fillText(letter(way.number), x - 5, y + 5);
    }
  }

  /** The moment at which a run's robot came nearest to a point, of those near it the next to come. */
  private momentAt(at: Point): number | null {
    const near_mm = 14 / this.camera.scale;
    let best: number | null = null;
    for (const { run } of this.ways) {
      let nearest = Number.POSITIVE_INFINITY;
      let t = 0;
      for (let i = 0; i < run.looks; ++i) {
        const later = run.t[i]! > this.player.t + 1e-6 ? 0 : near_mm;
        const far = Math.hypot(run.x[i]! - at[0], run.y[i]! - at[1]);
        if (far < near_mm && far + later < nearest) {
          nearest = far + later;
          t = run.t[i]!;
        }
      }
      if (best === null && nearest < Number.POSITIVE_INFINITY) {
        best = t;
      }
    }
    return best;
  }

  private listen(): void {
    const held = new Map<number, Point>();
    let moved = 0;
    const where = (event: PointerEvent | WheelEvent | MouseEvent): Point => {
      const box = this.element.getBoundingClientRect();
      return [event.clientX - box.left, event.clientY - box.top];
    };
    this.element.addEventListener("pointerdown", (event) => {
      held.set(event.pointerId, where(event));
      moved = held.size > 1 ? 100 : 0;
      this.element.setPointerCapture(event.pointerId);
    });
    this.element.addEventListener("pointermove", (event) => {
      const before = held.get(event.pointerId);
      if (before === undefined) {
        return;
      }
      const now = where(event);
      const others = [...held].filter(([id]) => id !== event.pointerId).map(([, p]) => p);
      held.set(event.pointerId, now);
      const other = others[0];
      if (other !== undefined) {
        const ratio = Math.hypot(now[0] - other[0], now[1] - other[1]) / Math.max(1, Math.hypot(before[0] - other[0], before[1] - other[1]));
        this.camera.zoom(ratio, [(now[0] + other[0]) / 2, (now[1] + other[1]) / 2]);
        return;
      }
      moved += Math.hypot(now[0] - before[0], now[1] - before[1]);
      if (moved > 4) {
        this.camera.follows = false;
        this.camera.pan(now[0] - before[0], now[1] - before[1]);
      }
    });
    const release = (event: PointerEvent): void => {
      if (held.delete(event.pointerId) && moved <= 4 && event.type === "pointerup") {
        const t = this.momentAt(this.camera.onCourse(where(event)));
        if (t !== null) {
          this.player.go(t);
        }
      }
    };
    this.element.addEventListener("pointerup", release);
    this.element.addEventListener("pointercancel", release);
    this.element.addEventListener(
      "wheel",
      (event) => {
        event.preventDefault();
        this.camera.zoom(Math.exp(-event.deltaY * 0.0016), where(event));
      },
      { passive: false },
    );
  }
}
