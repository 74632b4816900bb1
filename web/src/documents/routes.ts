// Which way each plan goes at each junction.

import { make, table } from "../dom.js";

interface Arm {
  at: string;
  from: string;
  robots: number;
  exits: { to: string; turn: string; robots: number }[];
  halted: number;
  lost: number;
  stayed: number;
  usual: string;
  stayed_because: string | null;
}

interface Reach {
  start: string;
  nodes: string[];
  circles: boolean;
  loop_from: number;
  end: string;
  share: number;
  towards: string | null;
  to_go_mm: number;
  in_place: string | null;
}

export interface Routes {
  plans: { plan: string; file: string; choices: Arm[]; reach: Reach[] }[];
}

/** "left to dock, 8 of 8": what most robots did, and beside it whatever others did. */
function told(arm: Arm): string {
  const parts: [number, string][] = arm.exits.map((exit) => [exit.robots, `${exit.turn}, to the ${exit.to}`]);
  parts.push([arm.halted, "halts"], [arm.lost, "is lost"], [arm.stayed, `stays${arm.stayed_because === null ? "" : `, ${arm.stayed_because}`}`]);
  return parts
    .filter(([robots]) => robots > 0)
    .sort((a, b) => b[0] - a[0])
    .map(([robots, words]) => `${words}: ${robots} of ${arm.robots}`)
    .join("; ");
}

function ends(reach: Reach): string {
  const way = [reach.start, ...reach.nodes].join(" → ");
  const ended = reach.end === "halted" ? "halts" : "is lost";
  const end = reach.towards !== null
    ? reach.in_place !== null
      ? `, and ${ended} at ${reach.in_place} on the way to ${reach.towards}`
      : `, and ${ended} ${reach.to_go_mm.toFixed(0)} mm before ${reach.towards}`
    : reach.nodes.length === 0
    ? ": on no line that leads to a junction"
    : reach.circles
      ? `, and round from ${reach.nodes[reach.loop_from] ?? "there"} for ever`
      : ({ halted: ", where it halts", lost: ", where it is lost" }[reach.end] ?? ", where it stays");
  return way + end + (reach.share < 0.995 ? ` (${(100 * reach.share).toFixed(0)} % sure)` : "");
}

export function routesView(routes: Routes): HTMLElement {
  const first = routes.plans[0];
  if (first === undefined) {
    return make("p", {}, "No plan.");
  }
  const rows = first.choices.map((arm, i) => {
    const words = routes.plans.map((plan) => told(plan.choices[i]!));
    const differ = words.some((one) => one !== words[0]);
    return [arm.at, `from the ${arm.from}`, ...words, ...(routes.plans.length > 1 ? [differ ? "they differ" : ""] : [])];
  });
  const head = ["at", "coming", ...routes.plans.map((plan) => plan.plan), ...(routes.plans.length > 1 ? [""] : [])];
  return make("div", {},
    table("What each plan does at each junction and end", head, rows),
    ...routes.plans.flatMap((plan) => [
      make("h2", {}, `${plan.plan} goes`),
      make("ul", {}, ...plan.reach.map((reach) => make("li", {}, ends(reach)))),
    ]));
}
