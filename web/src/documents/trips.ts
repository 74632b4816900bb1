// Route tests: what came of each trip, why, and what would cure it.

import { make, table } from "../dom.js";
import { plain } from "./plain.js";

interface Cure {
  change: string;
  passes: boolean;
  from_there: boolean;
  held: number;
  repeats: number;
  slower: boolean;
  breaks: string[];
  mends: string[];
}

interface Margin {
  quantity: string;
  unit: string;
  usual: number;
  low: number | null;
  high: number | null;
}

interface Days {
  share: [number, number];
  sure: number | null;
  decided: boolean | null;
  failed_days: number[];
  causes: { told: string }[];
  margins: { holds_on_ideal_days: boolean; alone: Margin[] } | null;
}

interface Trip {
  trip: string;
  variant: string;
  passed: boolean;
  runs: number;
  runs_passed: number;
  failures: string[];
  days: Days | null;
  parting: { told: string[]; t_s: number } | null;
  cures: Cure[];
  changes_tried: number;
  run: TripRun;
}

/** The run of a trip that is told: the first that failed, else the first. */
export interface TripRun {
  plan_file: string;
  start: string;
  seed: number;
  day: number;
  time_s: number;
  way_mm: number;
}

/** Shows a moment of a trip's run on the map; null when that run is none of the page's. */
export type ShowMoment = (run: TripRun, t: number) => (() => void) | null;

interface Outcome {
  layout: number;
  trip: string;
  passed: boolean;
  time_s: number;
}

export interface Trips {
  passed: number;
  failed: number;
  layouts?: number;
  plans: { plan: string; file: string; trips?: Trip[]; outcomes?: Outcome[]; looked_into?: Trip[] }[];
}

/** "pass" or "FAIL": a word, and a colour beside it. */
export function verdict(passed: boolean): HTMLElement {
  return make("strong", { class: passed ? "good" : "bad" }, passed ? "pass" : "FAIL");
}

function titleOf(trip: Trip): string {
  const isNamed = trip.variant === "as drawn" || trip.trip.includes(trip.variant);
  return trip.trip + (isNamed ? "" : ` (${trip.variant})`);
}

const mostCures = 5;

function cureItem(cure: Cure): HTMLElement {
  const held = cure.repeats > 0 ? `, held in ${cure.held} of ${cure.repeats} runs` : "";
  const others = [
    cure.slower ? "slower" : "",
    cure.breaks.length > 0 ? `breaks ${cure.breaks.join(", ")}` : "",
    cure.mends.length > 0 ? `mends ${cure.mends.join(", ")} too` : "",
  ].filter((words) => words !== "");
  return make("li", {},
    make("code", {}, cure.change),
    ` ${cure.passes ? "lets it pass" : cure.from_there ? "lets it pass from there on" : "brings it farther"}${held}${others.length > 0 ? `; ${others.join("; ")}` : ""}`);
}

function daysPart(days: Days): HTMLElement {
  const percent = (share: number): string => `${(100 * share).toFixed(1)} %`;
  const part = make("div", {}, make("p", {}, `Holds on ${percent(days.share[0])} to ${percent(days.share[1])} of its days.`));
  if (days.failed_days.length > 0) {
    const shown = days.failed_days.slice(0, 20).join(", ");
    part.append(make("p", {}, `Failed on days ${shown}${days.failed_days.length > 20 ? ` and ${days.failed_days.length - 20} more` : ""}.`));
  }
  if (days.causes.length > 0) {
    part.append(make("p", {}, "What breaks it:"), make("ul", {}, ...days.causes.map((cause) => make("li", {}, cause.told))));
  }
  if (days.margins !== null) {
    part.append(
      days.margins.holds_on_ideal_days
        ? table(
            "How far each may go alone before one run in twenty fails",
            ["quantity", "usual", "from", "to"],
            days.margins.alone.map((margin) => [
              margin.quantity + (margin.unit === "" ? "" : `, ${margin.unit}`),
              plain(margin.usual),
              margin.low === null ? "as far as can be" : plain(margin.low),
              margin.high === null ? "as far as can be" : plain(margin.high),
            ]),
          )
        : make("p", {}, "It bears nothing: it fails on ideal days."),
    );
  }
  return part;
}

function failedPart(trip: Trip, shows: ShowMoment): HTMLElement {
  const part = make("section", { class: "trip" }, make("h3", {}, verdict(trip.passed), ` ${titleOf(trip)}`));
  if (trip.days !== null) {
    part.append(daysPart(trip.days));
  }
  if (trip.passed) {
    return part;
  }
  part.append(...trip.failures.map((failure) => make("p", {}, failure)));
  if (trip.parting !== null) {
    const t = trip.parting.t_s;
    part.append(make("ul", { class: "told" }, ...trip.parting.told.map((line) => make("li", {}, line))));
    const go = shows(trip.run, t);
    if (go !== null) {
      const where = make("button", { type: "button" }, `show ${t.toFixed(2)} s on the map`);
      where.addEventListener("click", go);
      part.append(where);
    }
  }
  if (trip.cures.length > 0) {
    const passing = trip.cures.filter((cure) => cure.passes);
    const told = passing.length > 0 ? passing : trip.cures;
    part.append(make("p", {}, "Changes that were tried and help:"), make("ul", {}, ...told.slice(0, mostCures).map(cureItem)));
    if (told.length > mostCures) {
      part.append(make("p", {}, `and ${told.length - mostCures} changes more`));
    }
  } else if (trip.changes_tried > 0) {
    part.append(make("p", {}, `None of ${trip.changes_tried} changes of its rules and numbers lets it pass.`));
  }
  return part;
}

function layoutsPart(layouts: number, outcomes: Outcome[]): HTMLElement {
  const trips = [...new Set(outcomes.map((outcome) => outcome.trip))];
  return table(`Over ${layouts} layouts`, ["trip", "passed", "failed on layouts"],
    trips.map((trip) => {
      const own = outcomes.filter((outcome) => outcome.trip === trip);
      const failed = own.filter((outcome) => !outcome.passed).map((outcome) => outcome.layout);
      return [trip, `${own.length - failed.length} of ${own.length}`, failed.length === 0 ? "none" : failed.join(", ")];
    }));
}

export function tripsView(trips: Trips, shows: ShowMoment): HTMLElement {
  const view = make("div", {}, make("p", { class: "sum" }, `${trips.passed} passed, ${trips.failed} failed`));
  const withTrips = trips.plans.filter((plan) => plan.trips !== undefined);
  const first = withTrips[0]?.trips;
  if (first !== undefined) {
    view.append(table("Trips", ["trip", ...withTrips.map((plan) => plan.plan)],
      first.map((trip, i) => [
        titleOf(trip),
        ...withTrips.map((plan) => {
          const own = plan.trips![i]!;
          const words = own.runs === 1 ? ` ${own.run.time_s.toFixed(2)} s` : ` ${own.runs_passed} of ${own.runs}`;
          return make("span", {}, verdict(own.passed), words);
        }),
      ])));
  }
  for (const plan of trips.plans) {
    const told = (plan.trips ?? plan.looked_into ?? []).filter((trip) => !trip.passed || trip.days !== null);
    if (plan.outcomes !== undefined) {
      view.append(make("h2", {}, plan.plan), layoutsPart(trips.layouts ?? 0, plan.outcomes));
    } else if (told.length > 0) {
      view.append(make("h2", {}, `${plan.plan} (${plan.file})`));
    }
    view.append(...told.map((trip) => failedPart(trip, shows)));
  }
  return view;
}
