// Plans over the same trips, by numbers.

import { make, table } from "../dom.js";

interface Spread {
  mean: number;
  deviation: number;
}

interface Figures {
  trip: string;
  start: string;
  variant: string | null; // null over the layouts of a shuffled course
  runs: number;
  passed: number;
  better: [number, number];
  time_s: Spread;
  mean_mm_s: Spread;
  top_mm_s: Spread;
  steering_change_pct: Spread;
  aside_mm: Spread;
  farthest_mm: Spread;
  unanswered: Spread;
  losses: Spread;
}

export interface Comparison {
  layouts?: number;
  plans: { plan: string; runs: number; passed: number; better: [number, number]; trips: Figures[] }[];
}

const rows: [string, keyof Figures, number][] = [
  ["time, s", "time_s", 2],
  ["mean speed, mm/s", "mean_mm_s", 0],
  ["top speed, mm/s", "top_mm_s", 0],
  ["change of steering, % a look", "steering_change_pct", 2],
  ["aside of the tape, mm", "aside_mm", 1],
  ["farthest from it, mm", "farthest_mm", 0],
  ["looks unanswered", "unanswered", 1],
  ["times the line was lost", "losses", 1],
];

function spread(value: Spread, digits: number): string {
  return `${value.mean.toFixed(digits)} ± ${value.deviation.toFixed(digits)}`;
}

function better(share: [number, number]): string {
  return `${(100 * share[0]).toFixed(0)} to ${(100 * share[1]).toFixed(0)} % of the runs`;
}

export function comparisonView(comparison: Comparison): HTMLElement {
  const plans = comparison.plans;
  const first = plans[0];
  if (first === undefined) {
    return make("p", {}, "No plan.");
  }
  const head = ["", ...plans.map((plan) => plan.plan)];
  const view = make("div", {}, table(comparison.layouts === undefined ? "All trips" : `All trips, on ${comparison.layouts} layouts`, head, [
    ["passed", ...plans.map((plan) => `${plan.passed} of ${plan.runs}`)],
    [`passes more than ${first.plan}`, ...plans.map((plan, i) => (i === 0 ? "" : better(plan.better)))],
  ]));
  first.trips.forEach((trip, i) => {
    const own = plans.map((plan) => plan.trips[i]!);
    view.append(table(trip.trip + (trip.variant === "as drawn" || trip.variant === null ? "" : ` (${trip.variant})`), head, [
      ["passed", ...own.map((one) => `${one.passed} of ${one.runs}`)],
      ...rows.map(([words, key, digits]) => [words, ...own.map((one) => spread(one[key] as Spread, digits))]),
    ]));
  });
  view.append(make("p", { class: "hint" },
    "Mean ± one standard deviation over the runs of a trip. Aside: how far the array's middle is from the middle of the nearest tape, as a root mean square over the looks."));
  return view;
}
