// The plan's text with the acting line lit.

import type { Run } from "./data.js";
import { make } from "./dom.js";

export class PlanText {
  readonly element = make("div", { class: "plan", tabindex: 0, role: "region" });
  private lines: HTMLElement[] = [];
  private run: Run | null = null;
  private lit: HTMLElement | undefined;
  // Asked for when they change, not at every picture: asking has the page laid out.
  private high = 0;
  private lineHigh = 0;
  private scrolled = 0;

  constructor() {
    new ResizeObserver(() => this.measure()).observe(this.element);
    this.element.addEventListener("scroll", () => (this.scrolled = this.element.scrollTop), { passive: true });
  }

  take(run: Run): void {
    this.run = run;
    this.lit = undefined;
    this.element.setAttribute("aria-label", `Plan ${run.given.name}, ${run.given.file}`);
    this.lines = run.given.text.replace(/\n$/, "").split("\n").map((line) => make("li", {}, make("code", {}, line)));
    this.element.replaceChildren(make("ol", {}, ...this.lines));
  }

  show(t: number): void {
    if (this.run === null) {
      return;
    }
    const rule = this.run.acting(this.run.at(t));
    const line = rule === undefined ? undefined : this.lines[rule.line - 1];
    if (line === this.lit) {
      return;
    }
    this.lit?.classList.remove("lit");
    this.lit?.removeAttribute("aria-current");
    this.lit = line;
    if (line !== undefined) {
      line.classList.add("lit");
      line.setAttribute("aria-current", "true");
      this.bring(line);
    }
  }

  private measure(): void {
    this.high = this.element.clientHeight;
    this.lineHigh = this.lines[0]?.offsetHeight ?? 0;
    if (this.lit !== undefined) {
      this.bring(this.lit);
    }
  }

  /** Scrolls it into sight. */
  private bring(line: HTMLElement): void {
    const top = this.lines.indexOf(line) * this.lineHigh;
    if (this.high > 0 && (top < this.scrolled || top + 2 * this.lineHigh > this.scrolled + this.high)) {
      this.element.scrollTop = top - this.high / 2;
    }
  }
}
