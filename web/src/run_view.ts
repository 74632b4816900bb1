// The page of the runs: maps, time line, what is so now, the plan, plots, what happened.

import { Camera, type KeptCamera } from "./camera.js";
import { Controls, type Doings } from "./controls.js";
import type { PageGiven, Run } from "./data.js";
import { make, table } from "./dom.js";
import { letter } from "./inks.js";
import { keyHelp, listenToKeys } from "./keys.js";
import type { Floor } from "./course_drawing.js";
import { CourseMap } from "./map.js";
import { MomentList } from "./moment_list.js";
import { Now } from "./now.js";
import { PlanText } from "./plan_text.js";
import { type KeptPlots, Plots } from "./plots.js";
import type { Player } from "./player.js";
import { TimeLine } from "./strip.js";

/** What somebody chose, for a page that takes the place of this one. */
export interface KeptView {
  camera: KeptCamera;
  plots: KeptPlots;
  beside: boolean;
}

export class RunView {
  readonly element: HTMLElement;
  selected = 0;
  private readonly over: CourseMap;
  private readonly beside: CourseMap[] = [];
  private readonly maps = make("div", { class: "maps" });
  private readonly now = new Now();
  private readonly plan = new PlanText();
  private readonly list: MomentList;
  private readonly line: TimeLine;
  private readonly plots: Plots;
  private readonly controls: Controls;
  private readonly camera: Camera;

  constructor(
    private readonly page: PageGiven,
    private readonly runs: Run[],
    private readonly player: Player,
    private readonly floor: Floor,
    private readonly changed: () => void,
    until: AbortSignal,
    kept: KeptView | undefined,
  ) {
    this.camera = new Camera(page.course.width_mm, page.course.height_mm);
    const numbered = runs.map((run, number) => ({ run, number }));
    this.over = new CourseMap(page, numbered, floor, this.camera, player, `Map of ${page.course.name}: ${this.told()}`);
    this.maps.append(this.over.element);
    this.list = new MomentList(player);
    this.list.take(runs);
    this.line = new TimeLine(runs, player);
    this.plots = new Plots(runs, player, kept?.plots);
    const doings = this.doings();
    this.controls = new Controls(player, runs, doings);
    listenToKeys(player, runs.length, doings, until);
    const help = make("details", { class: "help" }, make("summary", {}, "keys"),
      make("dl", {}, ...keyHelp.flatMap(([key, words]) => [make("dt", {}, key), make("dd", {}, words)])));
    this.element = make("div", { class: "run-view" },
      make("div", { class: "stage" },
        make("div", { class: "left" }, this.maps, this.controls.element, this.line.element),
        make("aside", { class: "right", "aria-label": "the moment" }, this.now.element, this.plan.element)),
      this.plots.element,
      this.list.element,
      this.facts(),
      help);
    player.onMoment((t) => {
      this.now.show(t);
      this.plan.show(t);
      this.list.show(t);
    });
    player.onChange(() => this.now.element.setAttribute("aria-live", player.isPlaying ? "off" : "polite"));
    this.select(0);
    if (kept !== undefined) {
      if (kept.beside) {
        this.layout();
      }
      this.camera.take(kept.camera);
    }
  }

  keep(): KeptView {
    return { camera: this.camera.keep(), plots: this.plots.keep(), beside: this.maps.classList.contains("beside") };
  }

  select(run: number): void {
    const taken = this.runs[run];
    if (taken === undefined) {
      return;
    }
    this.selected = run;
    this.controls.selected(run);
    for (const map of [this.over, ...this.beside]) {
      map.select(run);
    }
    this.now.take(taken);
    this.plan.take(taken);
    this.player.go(this.player.t);
    this.changed();
  }

  /** Pictures for paper in the place of all that is drawn. */
  onPaper(): void {
    for (const map of this.maps.classList.contains("beside") ? this.beside : [this.over]) {
      map.onPaper();
    }
    this.line.onPaper();
    this.plots.onPaper();
  }

  /** Everything anew: colours changed. */
  draw(): void {
    for (const map of [this.over, ...this.beside]) {
      map.draw();
    }
    this.line.draw();
    this.plots.draw();
  }

  private told(): string {
    return this.runs
      .map(({ given }, i) => `${this.runs.length > 1 ? `run ${letter(i)}, ` : ""}${given.name}: ${given.ended} at ${given.time_s.toFixed(2)} s, by ${
        given.moments.filter((moment) => moment.kind === "place").map((moment) => moment.text).join(", ") || "no place"}`)
      .join("; ");
  }

  private facts(): HTMLElement {
    const head = ["", ...this.runs.map(({ given }, i) => (this.runs.length > 1 ? `${letter(i)} ${given.name}` : given.name))];
    const row = (name: string, of: (run: Run) => string): string[] => [name, ...this.runs.map(of)];
    return make("section", { "aria-label": "runs" }, table("Runs", head, [
      row("ended", ({ given }) => `${given.ended}: ${given.because}`),
      row("time", ({ given }) => `${given.time_s.toFixed(2)} s`),
      row("way", ({ given }) => `${given.way_mm.toFixed(0)} mm`),
      row("looks", (run) => run.hasLooks ? `${run.looks}, ${run.given.unanswered} unanswered` : "none"),
      row("noise", ({ given }) => (given.day > 0 ? `day ${given.day}` : `seed ${given.seed}`)),
      ...(this.runs.length > 1
        ? [row("parts from the first", ({ given }) =>
            given.apart === null ? "never" : `at ${given.apart.t.toFixed(2)} s${given.apart.way_t === null ? "" : `; more than 10 mm away from ${given.apart.way_t.toFixed(2)} s on`}, at most ${given.apart.most_mm.toFixed(0)} mm apart`)]
        : []),
    ]));
  }

  private doings(): Doings {
    return {
      look: (by) => {
        this.player.pause();
        const run = this.runs[this.selected]!;
        const at = run.at(this.player.t);
        const isOver = run.isOver(this.player.t);
        const next = isOver && by < 0 ? run.looks + by : at + by;
        this.player.go(next >= run.looks ? run.given.time_s : run.t[Math.max(next, 0)]!);
      },
      moment: (by) => {
        this.player.pause();
        const times = this.runs[this.selected]!.given.moments.map((moment) => moment.t);
        const found = by > 0 ? times.find((t) => t > this.player.t + 1e-4) : times.findLast((t) => t < this.player.t - 1e-4);
        if (found !== undefined) {
          this.player.go(found);
        }
      },
      select: (run) => this.select(run),
      zoom: (by) => (this.beside[0] ?? this.over).zoom(by),
      fit: () => {
        this.camera.follows = false;
        (this.beside[0] ?? this.over).fit();
      },
      follow: () => {
        this.camera.follows = !this.camera.follows;
        this.player.go(this.player.t);
      },
      layout: () => this.layout(),
    };
  }

  /** One map for each run, or one for all. */
  private layout(): void {
    if (this.runs.length < 2) {
      return;
    }
    if (this.maps.classList.toggle("beside")) {
      if (this.beside.length === 0) {
        this.runs.forEach((run, number) => this.beside.push(
          new CourseMap(this.page, [{ run, number }], this.floor, this.camera, this.player, `Map of run ${letter(number)}, ${run.given.name}`)));
      }
      this.maps.replaceChildren(...this.beside.map((map, i) =>
        make("figure", {}, make("figcaption", {}, `${letter(i)} ${this.runs[i]!.given.name}`), map.element)));
    } else {
      this.maps.replaceChildren(this.over.element);
    }
    this.camera.scale = 0; // fitted anew when their size is known
  }
}
