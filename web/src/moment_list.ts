// What happened, to jump to.

import type { Moment, Run } from "./data.js";
import { make } from "./dom.js";
import { letter, marks } from "./inks.js";
import type { Player } from "./player.js";

const most = 400;

const words: Record<string, string> = {
  start: "starts at",
  place: "comes to",
  junction: "at",
  said: "says",
  lost: "the line is nowhere under the array:",
  unanswered: "no rule holds:",
  touched: "touches",
  end: "ends,",
};

export class MomentList {
  readonly element: HTMLElement;
  private readonly list = make("ol", {});
  private items: { moment: Moment; item: HTMLElement }[] = [];
  private current: HTMLElement | undefined;

  constructor(private readonly player: Player) {
    this.element = make("section", { class: "moments", "aria-label": "what happened" }, make("h2", {}, "What happened"), this.list);
  }

  take(runs: Run[]): void {
    const all = runs.flatMap((run, i) => run.given.moments.map((moment) => ({ moment, name: runs.length > 1 ? `${letter(i)} ` : "" })));
    all.sort((a, b) => a.moment.t - b.moment.t);
    const shown = all.slice(0, most);
    this.items = shown.map(({ moment, name }) => {
      const go = make("button", { type: "button" },
        make("span", { class: "mark", "aria-hidden": "true" }, marks[moment.kind] ?? ""),
        make("span", { class: "at" }, `${moment.t.toFixed(2)} s`),
        ` ${name}${words[moment.kind] ?? ""} ${moment.text}`);
      go.addEventListener("click", () => this.player.go(moment.t));
      return { moment, item: make("li", {}, go) };
    });
    this.list.replaceChildren(...this.items.map(({ item }) => item));
    if (all.length > most) {
      this.list.append(make("li", {}, `and ${all.length - most} more, in the time line`));
    }
  }

  show(t: number): void {
    let now: HTMLElement | undefined;
    for (const { moment, item } of this.items) {
      if (moment.t <= t + 1e-6) {
        now = item;
      }
    }
    if (now !== this.current) {
      this.current?.removeAttribute("aria-current");
      this.current = now;
      now?.setAttribute("aria-current", "true");
    }
  }
}
