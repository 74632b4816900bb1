// The time line: a band for each run, coloured and numbered by the rule that acts, and marks of what happened.

import type { Run } from "./data.js";
import { make, paperPicture, sharpen } from "./dom.js";
import { letter, marks, otherRule, own } from "./inks.js";
import type { Player } from "./player.js";

const side = 14;
const high = 38;

export class TimeLine {
  readonly element: HTMLElement;
  private readonly canvas = make("canvas", { "aria-hidden": "true" });
  private readonly hand = make("div", { class: "hand", "aria-hidden": "true" });
  private readonly strip = make("div", { class: "strip" });
  private readonly slider: HTMLInputElement;
  private width = 0;

  constructor(
    private readonly runs: Run[],
    private readonly player: Player,
  ) {
    this.slider = make("input", { type: "range", min: 0, max: player.end, step: 0.001, "aria-label": "moment of the run" });
    const strip = this.strip;
    strip.append(this.canvas, this.hand);
    this.element = make("div", { class: "timeline" }, strip, this.slider);
    this.slider.addEventListener("input", () => player.go(Number(this.slider.value)));
    player.onMoment((t) => this.show(t));
    new ResizeObserver(() => {
      if (strip.clientWidth > 0 && strip.clientWidth !== this.width) {
        this.width = strip.clientWidth;
        this.draw();
        this.show(player.t);
      }
    }).observe(strip);
    const drag = (event: PointerEvent): void => {
      const box = strip.getBoundingClientRect();
      player.go(((event.clientX - box.left - side) / Math.max(1, box.width - 2 * side)) * player.end);
    };
    strip.addEventListener("pointerdown", (event) => {
      strip.setPointerCapture(event.pointerId);
      drag(event);
    });
    strip.addEventListener("pointermove", (event) => {
      if (strip.hasPointerCapture(event.pointerId)) {
        drag(event);
      }
    });
  }

  private x(t: number): number {
    return side + (this.player.end > 0 ? t / this.player.end : 0) * (this.width - 2 * side);
  }

  private show(t: number): void {
    this.hand.style.transform = `translateX(${this.x(t)}px)`;
    this.slider.value = String(t);
    this.slider.setAttribute("aria-valuetext", `${t.toFixed(2)} of ${this.player.end.toFixed(2)} seconds`);
  }

  /** Also when the page turns dark. */
  draw(): void {
    if (this.width === 0) {
      return;
    }
    const height = high * this.runs.length;
    this.canvas.style.height = `${height}px`;
    const context = sharpen(this.canvas, this.width, height);
    context.clearRect(0, 0, this.width, height);
    context.textBaseline = "middle";
    this.runs.forEach((run, row) => this.drawBand(context, run, row * high, row));
  }

  onPaper(): void {
    this.draw();
    paperPicture([this.canvas], this.strip);
  }

  private drawBand(context: CanvasRenderingContext2D, run: Run, top: number, row: number): void {
    const middle = top + 26;
    context.font = "11px sans-serif";
    context.textAlign = "center";
    let drawn = 0; // up to there: of spells within one point of the screen one is enough
    for (const spell of run.spells) {
      const from = this.x(run.t[spell.from]!);
      const to = this.x(spell.to + 1 < run.looks ? run.t[spell.to + 1]! : run.given.time_s);
      if (to - drawn < 0.5) {
        continue;
      }
      drawn = to;
      context.fillStyle = run.ruleInks.get(spell.rule) ?? otherRule;
      context.fillRect(from, middle - 9, Math.max(0.6, to - from), 18);
      if (to - from > 12) {
        const rule = run.given.rules[spell.rule];
        const words = rule === undefined ? "none" : String(rule.line);
        if (to - from > context.measureText(words).width + 6) {
          context.fillStyle = "#fff";
          context.fillText(words, (from + to) / 2, middle + 0.5);
        }
      }
    }
    context.fillStyle = own("text");
    context.textAlign = "center";
    context.font = "11px sans-serif";
    let free = 0;
    for (const moment of run.given.moments) {
      const at = this.x(moment.t);
      if (at >= free || moment.kind === "end") {
        context.fillText(marks[moment.kind] ?? "", at, top + 9);
        free = at + 9;
      }
    }
    if (run.given.apart !== null) {
      const at = this.x(run.given.apart.t);
      context.fillRect(at - 1, middle - 12, 2, 24);
    }
    if (this.runs.length > 1) {
      context.textAlign = "left";
      context.font = "bold 12px sans-serif";
      context.fillText(letter(row), 0, middle);
    }
  }
}
