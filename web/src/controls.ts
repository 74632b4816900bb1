// Playing, and what is shown.

import type { Run } from "./data.js";
import { button, make } from "./dom.js";
import { letter } from "./inks.js";
import { type Player, speeds } from "./player.js";

/** What the page can be asked to do, by buttons and by keys. */
export interface Doings {
  /** One look on or back. */
  look(by: number): void;
  /** To the next or last moment that something happened at. */
  moment(by: 1 | -1): void;
  select(run: number): void;
  zoom(by: number): void;
  fit(): void;
  follow(): void;
  layout(): void;
}

export class Controls {
  readonly element: HTMLElement;
  private readonly playing: HTMLButtonElement;
  private readonly speed = make("select", { "aria-label": "speed" });
  private readonly backwards = make("input", { type: "checkbox" });
  private readonly runs: HTMLInputElement[] = [];

  constructor(
    private readonly player: Player,
    runs: Run[],
    doings: Doings,
  ) {
    this.playing = button("▶ play", "play or stop (space)", () => player.toggle());
    for (const speed of speeds) {
      this.speed.append(make("option", { value: speed, selected: speed === 1 }, `${speed} ×`));
    }
    this.speed.addEventListener("change", () => player.set(Number(this.speed.value), player.direction));
    this.backwards.addEventListener("change", () => player.set(player.speed, this.backwards.checked ? -1 : 1));
    this.element = make("div", { class: "controls", role: "toolbar", "aria-label": "playing" },
      this.playing,
      button("start", "to the start (Home)", () => player.go(0)),
      button("◂ event", "to the last event (p)", () => doings.moment(-1)),
      button("‹ look", "a look back (left)", () => doings.look(-1)),
      button("look ›", "a look on (right)", () => doings.look(1)),
      button("event ▸", "to the next event (n)", () => doings.moment(1)),
      this.speed,
      make("label", {}, this.backwards, " backwards"),
      make("span", { class: "gap" }),
      button("−", "zoom out (-)", () => doings.zoom(1 / 1.4)),
      button("+", "zoom in (+)", () => doings.zoom(1.4)),
      button("all", "the whole course (0)", () => doings.fit()),
      button("follow", "keep the robot in the middle (f)", () => doings.follow()));
    if (runs.length > 1) {
      const group = make("fieldset", { class: "runs" }, make("legend", {}, "run"));
      runs.forEach((run, i) => {
        const box = make("input", { type: "radio", name: "run", checked: i === 0 });
        box.addEventListener("change", () => doings.select(i));
        this.runs.push(box);
        group.append(make("label", { class: `ink-${i % 6}` }, box, ` ${letter(i)} ${run.given.name}`));
      });
      group.append(make("span", { class: "gap" }), button("beside / over", "maps beside each other, or one (b)", () => doings.layout()));
      this.element.append(group);
    }
    player.onChange(() => this.show());
  }

  selected(run: number): void {
    const box = this.runs[run];
    if (box !== undefined) {
      box.checked = true;
    }
  }

  private show(): void {
    this.playing.textContent = this.player.isPlaying ? "⏸ stop" : "▶ play";
    this.speed.value = String(this.player.speed);
    this.backwards.checked = this.player.direction < 0;
  }
}
