// What a run is at the moment: lamps of the array, the rule that acts, blocks in hand.

import type { Run } from "./data.js";
import { make } from "./dom.js";

/** Without a minus before nothing. */
function fixed(value: number, digits: number): string {
  return value.toFixed(digits).replace(/^-(?=0\.?0*$)/, "");
}

/** A text that is written only when it changes. */
class Line {
  readonly element: HTMLElement;
  private last = "";

  constructor(name: string) {
    this.element = make("span", { class: name });
  }

  set(text: string): void {
    if (text !== this.last) {
      this.last = text;
      this.element.textContent = text;
    }
  }
}

export class Now {
  readonly element: HTMLElement;
  private readonly lamps: { lamp: HTMLElement; fill: HTMLElement; bar: HTMLElement; number: Line }[] = [];
  private readonly array = make("div", { class: "lamps", role: "img" });
  private readonly when = new Line("when");
  private readonly where = new Line("where");
  private readonly rule = new Line("rule");
  private readonly acts = new Line("acts");
  private readonly hands = new Line("hands");
  private readonly sees = new Line("sees");
  private run: Run | null = null;
  private last = -1;

  constructor() {
    this.element = make(
      "div",
      { class: "now" },
      make("p", { class: "moment" }, this.when.element, " ", this.where.element),
      this.array,
      make("dl", {},
        make("dt", {}, "acts"), make("dd", {}, this.rule.element),
        make("dt", {}, "answers"), make("dd", {}, this.acts.element),
        make("dt", {}, "in hand"), make("dd", {}, this.hands.element),
        make("dt", {}, "also"), make("dd", {}, this.sees.element)),
    );
  }

  /** Of which run it tells. */
  take(run: Run): void {
    this.run = run;
    this.last = -1;
    this.lamps.length = 0;
    this.array.replaceChildren();
    run.sensors.forEach((_, i) => {
      const fill = make("div", { class: "fill" });
      const bar = make("div", { class: "threshold" });
      const number = new Line("number");
      const lamp = make("div", { class: "lamp" }, make("div", { class: "well" }, fill, bar), number.element);
      bar.style.bottom = `${100 * (run.given.thresholds[i] ?? 0.5)}%`;
      this.lamps.push({ lamp, fill, bar, number });
      this.array.append(lamp);
    });
  }

  show(t: number): void {
    const run = this.run;
    if (run === null) {
      return;
    }
    const look = run.at(t);
    const over = run.isOver(t);
    this.when.set(over ? `${run.given.time_s.toFixed(2)} s, ${run.given.ended}` : `${run.t[look]!.toFixed(2)} s`);
    if (look === this.last) {
      return;
    }
    this.last = look;
    if (!run.hasLooks) {
      this.where.set("it ended before its first look");
      for (const line of [this.rule, this.acts, this.hands, this.sees]) {
        line.set(""); // of the run that was told before
      }
      return;
    }
    this.where.set(
      `look ${look + 1} of ${run.looks}, ${fixed(run.x[look]!, 0)},${fixed(run.y[look]!, 0)} mm, ${fixed(run.facing[look]!, 0)}°`,
    );
    const bits = run.line[look]!;
    const values: string[] = [];
    this.lamps.forEach((lamp, i) => {
      const value = run.sensors[i]![look]!;
      const isLine = ((bits >> i) & 1) !== 0;
      lamp.fill.style.transform = `scaleY(${Math.min(Math.max(value, 0), 1)})`;
      lamp.lamp.classList.toggle("on", isLine);
      lamp.number.set(`${isLine ? "#" : "."} ${value.toFixed(2)}`);
      values.push(`sensor ${i + 1} ${isLine ? "line" : "floor"} ${value.toFixed(2)}`);
    });
    this.array.setAttribute("aria-label", `Array [${run.pattern(look)}]: ${values.join(", ")}`);
    const rule = run.acting(look);
    this.rule.set(rule === undefined ? "no rule held" : `line ${rule.line}${rule.mirrored ? " (mirrored)" : ""}: ${rule.condition} → ${rule.acts}`);
    this.acts.set(`left ${fixed(run.left[look]!, 1)} %, right ${fixed(run.right[look]!, 1)} %`);
    const now = run.t[look]!;
    this.hands.set(run.hands(look).map(([block, since]) => `${block}, ${Math.max(0, now - since).toFixed(2)} s`).join(" › "));
    this.sees.set(this.others(run, look));
  }

  private others(run: Run, look: number): string {
    const parts = run.markers(look).map((name) => `sees ${name}`);
    for (const quantity of run.given.quantities) {
      const value = run.column(quantity.column)[look]!;
      const text = Number.isNaN(value) ? "none" : quantity.condition ? (value > 0 ? "yes" : "no") : `${Number(value.toPrecision(4))} ${quantity.unit}`;
      parts.push(`${quantity.name} ${text.trim()}`);
    }
    return parts.length === 0 ? "nothing" : parts.join(", ");
  }
}
