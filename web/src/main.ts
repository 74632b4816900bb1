// Begins the page.

import { readAddress, type Shown, written } from "./address.js";
import { type Floor, paintedPoints } from "./course_drawing.js";
import { type PageGiven, Run, type RunGiven, unpacked } from "./data.js";
import { type Comparison, comparisonView } from "./documents/comparison.js";
import { type Findings, findingsView } from "./documents/findings.js";
import { type Routes, routesView } from "./documents/routes.js";
import { type ShowMoment, type TripRun, type Trips, tripsView } from "./documents/trips.js";
import { make } from "./dom.js";
import { letter, ruleInks } from "./inks.js";
import { Player } from "./player.js";
import { type KeptView, RunView } from "./run_view.js";
import { type View, Views } from "./views.js";

function given(within: Document): PageGiven {
  return JSON.parse(within.getElementById("data")?.textContent ?? "") as PageGiven;
}

/** The floor that was drawn last: a page that takes the place of another mostly has the same. */
let floorOf: { address: string; floor: Floor } | undefined;

async function floorAt(page: PageGiven): Promise<Floor> {
  if (floorOf?.address === page.course.floor) {
    return floorOf.floor;
  }
  const picture = new Image();
  picture.src = page.course.floor;
  await picture.decode();
  const floor = { picture, painted: paintedPoints(page.course, picture) };
  floorOf = { address: page.course.floor, floor };
  return floor;
}

function problemsView(page: PageGiven): HTMLElement {
  return make("section", { class: "problems", role: "alert" },
    make("h1", {}, page.title),
    make("p", {}, "There is no run until this is mended:"),
    ...page.problems.map((problem) => make("pre", {}, problem.text)));
}

function documentsOf(page: PageGiven, shows: ShowMoment): View[] {
  const { trips, routes, comparison, findings } = page.documents;
  const views: View[] = [];
  const add = (id: string, name: string, element: HTMLElement): void => {
    views.push({ id, name, element: make("section", { class: "document" }, make("h1", {}, name), element) });
  };
  if (trips !== null) {
    add("trips", "Trips", tripsView(trips as Trips, shows));
  }
  if (routes !== null) {
    add("routes", "Routes", routesView(routes as Routes));
  }
  if (comparison !== null) {
    add("comparison", "Comparison", comparisonView(comparison as Comparison));
  }
  if (findings !== null) {
    add("findings", "Findings", findingsView(findings as Findings));
  }
  return views;
}

/** Whether a run of the page is that of a trip. */
function isSame(run: RunGiven, trip: TripRun): boolean {
  return run.file === trip.plan_file && run.start === trip.start && run.seed === trip.seed && run.day === trip.day &&
    Math.abs(run.time_s - trip.time_s) < 1e-3 && Math.abs(run.way_mm - trip.way_mm) < 0.1;
}

/** A page that is shown: what somebody chose in it, for the one that takes its place. */
interface Kept {
  shown: Shown;
  view: KeptView;
  speed: number;
  direction: number;
  isPlaying: boolean;
}

async function begin(page: PageGiven, root: HTMLElement, until: AbortSignal, kept: Kept | undefined): Promise<() => Kept> {
  const [floor, ...runs] = await Promise.all([
    floorAt(page),
    ...page.runs.map(async (run) => new Run(run, await unpacked(run.looks))),
  ]);
  ruleInks(runs.map((run) => ({ rule: run.rule, rules: run.given.rules }))).forEach((inks, i) => (runs[i]!.ruleInks = inks));
  const player = new Player(Math.max(...runs.map((run) => run.given.time_s)));
  let address = "";
  let isReady = false;
  const shown = (): Shown => ({ t: player.t, run: runView.selected, view: views.current });
  const tell = (): void => {
    if (isReady && !player.isPlaying) {
      const now = written(shown(), letter);
      if (now !== address) {
        address = now;
        history.replaceState(null, "", address);
      }
    }
  };
  const runView = new RunView(page, runs, player, floor, tell, until, kept?.view);
  const views: Views = new Views(
    [{ id: "run", name: runs.length > 1 ? "Runs" : "Run", element: runView.element },
      ...documentsOf(page, (trip, t) => {
        const run = page.runs.findIndex((one) => isSame(one, trip));
        return run < 0 ? null : () => {
          views.show("run");
          runView.select(run);
          player.pause();
          player.go(t);
        };
      })],
    tell,
  );
  const variant = page.course.variant === "" ? null : make("span", { class: "hint" }, page.course.variant);
  root.replaceChildren(make("header", {}, make("h1", {}, page.title), variant, views.tabs), views.element);
  const follow = (to: Partial<Shown>): void => {
    views.show(to.view ?? "run");
    runView.select(to.run ?? 0);
    player.go(to.t ?? 0);
  };
  follow(kept?.shown ?? readAddress(location.hash));
  isReady = true;
  // The address is written when the page rests, not sixty times a second.
  player.onMoment(tell);
  player.onChange(tell);
  window.addEventListener("hashchange", () => {
    if (location.hash !== address) {
      follow(readAddress(location.hash));
    }
  }, { signal: until });
  matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () => runView.draw(), { signal: until });
  window.addEventListener("beforeprint", () => runView.onPaper(), { signal: until });
  until.addEventListener("abort", () => player.pause());
  if (kept !== undefined) {
    player.set(kept.speed, kept.direction);
    if (kept.isPlaying) {
      player.play();
    }
  }
  return () => ({ shown: shown(), view: runView.keep(), speed: player.speed, direction: player.direction, isPlaying: player.isPlaying });
}

/** Shows a page, and when it is served, the ones that come after it in its place. */
async function show(page: PageGiven, root: HTMLElement, kept: Kept | undefined): Promise<void> {
  const until = new AbortController();
  let keep = (): Kept | undefined => kept;
  if (page.changes_at !== "") {
    const changes = new EventSource(page.changes_at);
    changes.addEventListener("message", () => {
      changes.close();
      next(root, keep, until).catch(fail);
    });
  }
  document.title = page.title;
  if (page.problems.length > 0) {
    root.replaceChildren(problemsView(page));
  } else {
    keep = await begin(page, root, until.signal, kept);
  }
  document.documentElement.dataset["ready"] = "yes";
}

async function next(root: HTMLElement, keep: () => Kept | undefined, until: AbortController): Promise<void> {
  const answer = await fetch(location.pathname, { cache: "no-store" });
  const page = given(new DOMParser().parseFromString(await answer.text(), "text/html"));
  const kept = keep();
  until.abort();
  await show(page, root, kept);
}

const root = document.getElementById("page");

function fail(error: unknown): void {
  const words = error instanceof Error ? error.message : String(error);
  root?.replaceChildren(make("p", { role: "alert" }, `This page cannot be shown: ${words}. It needs a browser of 2023 or newer.`));
  document.documentElement.dataset["ready"] = "no";
}

if (root !== null) {
  try {
    show(given(document), root, undefined).catch(fail);
  } catch (error) {
    fail(error);
  }
}
