// Curves of anything that was recorded, against time or way, linked to the moment.

import uPlot from "uplot";
import type { Run } from "./data.js";
import { lastNotAbove } from "./data.js";
import { make, paperPicture } from "./dom.js";
import { curveInk, letter, own } from "./inks.js";
import type { Player } from "./player.js";

interface Curve {
  name: string;
  unit: string;
  condition: boolean;
  shown: boolean;
  /** The column of a run that has it. */
  columns: (Float64Array | null)[];
}

type Axis = "time" | "way";

/** What is drawn, for a page that takes the place of this one. */
export interface KeptPlots {
  shown: string[];
  axis: Axis;
}

/** All that can be drawn of some runs. */
function curvesOf(runs: Run[]): Curve[] {
  const curves = new Map<string, Curve>();
  const add = (name: string, unit: string, condition: boolean, shown: boolean, of: (run: Run) => Float64Array | null): void => {
    if (!curves.has(name)) {
      curves.set(name, { name, unit, condition, shown, columns: runs.map(of) });
    }
  };
  for (const run of runs) {
    for (const { name, unit, condition, asked } of run.given.quantities) {
      add(name, unit, condition, asked, (one) => {
        const own = one.given.quantities.find((quantity) => quantity.name === name);
        return own === undefined ? null : one.column(own.column);
      });
    }
  }
  const first = runs[0]!;
  add("left", "%", false, false, (run) => run.left);
  add("right", "%", false, false, (run) => run.right);
  first.sensors.forEach((_, i) => add(`sensor ${i + 1}`, "", false, false, (run) => run.sensors[i] ?? null));
  add("facing", "deg", false, false, (run) => run.facing);
  add("x", "mm", false, false, (run) => run.x);
  add("y", "mm", false, false, (run) => run.y);
  add("range", "mm", false, false, (run) => run.column("range"));
  const list = [...curves.values()];
  if (!list.some((curve) => curve.shown)) {
    for (const name of ["offset", "left", "right"]) {
      const curve = curves.get(name);
      if (curve !== undefined) {
        curve.shown = true;
      }
    }
  }
  return list;
}

/** Points that all runs share: of the longest run's looks, or a grid along the way. */
function sharedPoints(runs: Run[], axis: Axis): Float64Array {
  if (axis === "time") {
    return runs.reduce((longest, run) => (run.looks > longest.looks ? run : longest)).t;
  }
  const end = Math.max(...runs.map((run) => run.farthest[run.looks - 1] ?? 0));
  const points = Math.min(6000, Math.max(2, ...runs.map((run) => run.looks)));
  return Float64Array.from({ length: points }, (_, i) => (i * end) / (points - 1));
}

/** A run's values at shared points; behind its end there are none. */
function valuesAt(run: Run, column: Float64Array | null, points: Float64Array, axis: Axis): (number | null)[] | Float64Array {
  const of = axis === "time" ? run.t : run.farthest;
  if (of === points && column !== null && !column.some(Number.isNaN)) {
    return column; // as it is
  }
  const last = of.length - 1;
  const values: (number | null)[] = new Array<number | null>(points.length).fill(null);
  if (column === null || last < 0) {
    return values;
  }
  let look = 0;
  for (let i = 0; i < points.length; ++i) {
    const at = points[i]! - 1e-9;
    while (look < last && of[look]! < at) {
      ++look;
    }
    if (of[look]! < at) {
      break;
    }
    const value = column[look]!;
    values[i] = Number.isNaN(value) ? null : value;
  }
  return values;
}

class Panel {
  readonly element: HTMLElement;
  private readonly title = make("p", { class: "plot-title" });
  private readonly room = make("div", { class: "plot" });
  private readonly hand = make("div", { class: "hand", "aria-hidden": "true" });
  private plot: uPlot | null = null;

  constructor(
    private readonly curve: Curve,
    private readonly runs: Run[],
    private readonly player: Player,
    private readonly axis: Axis,
    private readonly xOf: (t: number) => number,
    private readonly tOf: (x: number) => number,
  ) {
    const unit = curve.unit === "" ? "" : `, ${curve.unit}`;
    this.element = make("figure", { "aria-label": `${curve.name}${unit} against ${axis}` }, this.title, this.room);
  }

  draw(points: Float64Array): void {
    this.plot?.destroy();
    const axes = { stroke: own("text"), grid: { stroke: own("grid"), width: 1 }, ticks: { stroke: own("grid"), width: 1, size: 4 }, font: "11px sans-serif" };
    const stepped = uPlot.paths.stepped?.({ align: 1 });
    const options: uPlot.Options = {
      width: Math.max(200, this.room.clientWidth),
      height: this.curve.condition ? 74 : 118,
      legend: { show: false },
      cursor: { sync: { key: "vast-turn", scales: ["x", null] }, points: { show: false }, drag: { x: true, y: false } },
      scales: { x: { time: false }, y: this.curve.condition ? { range: [-0.1, 1.1] } : {} },
      axes: [
        { ...axes, size: 26, gap: 2, values: (_, splits) => splits.map((x) => `${x} ${this.axis === "time" ? "s" : "mm"}`) },
        { ...axes, size: 54, gap: 3, ...(this.curve.condition ? { values: (_: uPlot, splits: number[]) => splits.map((y) => (y === 0 ? "no" : y === 1 ? "yes" : "")) } : {}) },
      ],
      series: [
        {},
        ...this.runs.map((_, i): uPlot.Series => ({
          stroke: curveInk(i).colour,
          dash: curveInk(i).dash,
          width: 1.5,
          points: { show: false },
          ...(this.curve.condition && stepped !== undefined ? { paths: stepped } : {}),
        })),
      ],
      hooks: { draw: [() => this.show(this.player.t)] },
    };
    const data: uPlot.AlignedData = [
      points,
      ...this.runs.map((run, i) => valuesAt(run, this.curve.columns[i] ?? null, points, this.axis)),
    ];
    this.room.replaceChildren();
    const plot = new uPlot(options, data, this.room);
    this.plot = plot;
    plot.over.append(this.hand);
    let pressed = 0;
    plot.over.addEventListener("mousedown", (event) => (pressed = event.clientX));
    plot.over.addEventListener("click", (event) => {
      if (Math.abs(event.clientX - pressed) < 4) {
        this.player.go(this.tOf(plot.posToVal(event.offsetX, "x")));
      }
    });
    this.show(this.player.t);
  }

  onPaper(): void {
    const canvas = this.room.querySelector("canvas");
    if (canvas !== null) {
      paperPicture([canvas], this.room);
    }
  }

  resize(): void {
    if (this.plot !== null && this.room.clientWidth > 0) {
      this.plot.setSize({ width: this.room.clientWidth, height: this.plot.height });
      this.show(this.player.t);
    }
  }

  show(t: number): void {
    if (this.plot === null) {
      return;
    }
    const at = this.plot.valToPos(this.xOf(t), "x");
    const isThere = at >= 0 && at <= this.plot.bbox.width / (window.devicePixelRatio || 1) + 1;
    this.hand.hidden = !isThere;
    if (isThere) {
      this.hand.style.transform = `translateX(${at}px)`;
    }
    const unit = this.curve.unit === "" ? "" : ` ${this.curve.unit}`;
    const values = this.runs.map((run, i) => {
      const value = this.curve.columns[i]?.[run.at(t)] ?? Number.NaN;
      const text = Number.isNaN(value) ? "none" : this.curve.condition ? (value > 0 ? "yes" : "no") : `${Number(value.toPrecision(4))}${unit}`;
      return this.runs.length === 1 ? text : `${letter(i)} ${text}`;
    });
    this.title.textContent = `${this.curve.name}: ${values.join(", ")}`;
  }
}

export class Plots {
  readonly element: HTMLElement;
  private readonly room = make("div", { class: "plots" });
  private readonly curves: Curve[];
  private panels: Panel[] = [];
  private axis: Axis = "time";
  private width = 0;

  constructor(
    private readonly runs: Run[],
    private readonly player: Player,
    kept: KeptPlots | undefined,
  ) {
    this.curves = curvesOf(runs);
    if (kept !== undefined) {
      this.axis = kept.axis;
      for (const curve of this.curves) {
        curve.shown = kept.shown.includes(curve.name);
      }
    }
    const boxes = this.curves.map((curve) => {
      const box = make("input", { type: "checkbox", checked: curve.shown });
      box.addEventListener("change", () => {
        curve.shown = box.checked;
        this.draw();
      });
      return make("label", {}, box, ` ${curve.name}`);
    });
    const against = make("select", { "aria-label": "plots against" }, make("option", { value: "time" }, "against time"), make("option", { value: "way", selected: this.axis === "way" }, "against way"));
    against.addEventListener("change", () => {
      this.axis = against.value === "way" ? "way" : "time";
      this.draw();
    });
    this.element = make(
      "section",
      { "aria-label": "plots" },
      make("div", { class: "choices" }, against, ...boxes),
      this.room,
      make("p", { class: "hint" }, "Click: go there. Drag: look closer. Double click: all of it again."),
    );
    player.onMoment((t) => this.panels.forEach((panel) => panel.show(t)));
    new ResizeObserver(() => {
      if (this.room.clientWidth !== this.width && this.room.clientWidth > 0) {
        const isFirst = this.width === 0;
        this.width = this.room.clientWidth;
        if (isFirst) {
          // After the first picture: what lies below the map may come a little later than it.
          requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(() => this.draw())));
        } else {
          this.panels.forEach((panel) => panel.resize());
        }
      }
    }).observe(this.room);
  }

  keep(): KeptPlots {
    return { shown: this.curves.filter((curve) => curve.shown).map((curve) => curve.name), axis: this.axis };
  }

  onPaper(): void {
    this.panels.forEach((panel) => panel.onPaper());
  }

  draw(): void {
    if (this.width === 0) {
      return;
    }
    const points = sharedPoints(this.runs, this.axis);
    const first = this.runs[0]!;
    const xOf = (t: number): number => (this.axis === "time" ? t : first.farthest[first.at(t)] ?? 0);
    const tOf = (x: number): number => (this.axis === "time" ? x : first.t[lastNotAbove(first.farthest, x)] ?? 0);
    this.panels = this.curves.filter((curve) => curve.shown).map((curve) => new Panel(curve, this.runs, this.player, this.axis, xOf, tOf));
    this.room.replaceChildren(...this.panels.map((panel) => panel.element));
    this.panels.forEach((panel) => panel.draw(points));
  }
}
