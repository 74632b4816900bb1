// What is wrong with plans.

import { make, table } from "../dom.js";

interface Finding {
  code: string;
  grade: string;
  line: number;
  message: string;
  why: string;
  cure: string;
}

export interface Findings {
  plans: { plan: string; file: string; findings: Finding[]; facts: { what: string; value: string }[] }[];
}

export function findingsView(findings: Findings): HTMLElement {
  return make("div", {}, ...findings.plans.flatMap((plan) => [
    make("h2", {}, `${plan.plan} (${plan.file})`),
    plan.findings.length === 0
      ? make("p", {}, "Nothing was found to be wrong with it.")
      : make("ol", { class: "findings" }, ...plan.findings.map((finding) =>
          make("li", {},
            make("strong", { class: finding.grade === "hint" ? "" : "bad" }, finding.grade),
            `${finding.line > 0 ? `, line ${finding.line}` : ""}: ${finding.message} `,
            make("span", { class: "hint" }, `[${finding.code}]`),
            make("p", {}, finding.why),
            finding.cure === "" ? null : make("p", {}, `To do: ${finding.cure}`)))),
    table("Facts", ["", ""], plan.facts.map((fact) => [fact.what, fact.value])),
  ]));
}
