// Colours. Each stands beside a number, a letter or a dash that tells the same.

/** Of rules, in the order of the plan. */
const rules = [
  "#d65c1c", "#1876c4", "#009668", "#a84296", "#c8940a", "#3c9cc0",
  "#785434", "#dc5a80", "#688c1e", "#564abe", "#006064", "#96143c",
];
export const otherRule = "#80847f";
export const noRule = "#b0b4ae";

/** Of runs: colour, dashes, letter. */
export const runInks = [
  { colour: "#267048", dash: [] },
  { colour: "#ba2834", dash: [7, 4] },
  { colour: "#1860b4", dash: [2, 3] },
  { colour: "#a07000", dash: [10, 3, 2, 3] },
  { colour: "#8a3a8a", dash: [4, 2] },
  { colour: "#0a7a80", dash: [12, 4] },
];

export function runInk(number: number): { colour: string; dash: number[] } {
  return runInks[number % runInks.length]!;
}

const onDark = ["#6fcf97", "#ff8a92", "#7fb8ff", "#ecc14f", "#e39be3", "#5fd3d8"];

export function isDark(): boolean {
  return matchMedia("(prefers-color-scheme: dark)").matches && !matchMedia("print").matches;
}

/** The same away from the floor, which is light always. */
export function curveInk(number: number): { colour: string; dash: number[] } {
  const ink = runInk(number);
  return isDark() ? { ...ink, colour: onDark[number % onDark.length]! } : ink;
}

/** A, B ... Z, A1, B1 ... */
export function letter(number: number): string {
  return String.fromCharCode(65 + (number % 26)) + (number < 26 ? "" : String(Math.floor(number / 26)));
}

/**
 * The colours of rules, for each run by their numbers: those that acted most often, in the order of the plans. A rule
 * that stands in several plans on the same line has one colour in all of them.
 */
export function ruleInks(runs: { rule: Float64Array; rules: { line: number; condition: string; acts: string }[] }[]): Map<number, string>[] {
  const looks = new Map<string, number>();
  const keys = runs.map(({ rules }) => rules.map(({ line, condition, acts }) => `${line} ${condition} ${acts}`));
  runs.forEach(({ rule }, r) => {
    const own = new Int32Array(keys[r]!.length);
    for (const one of rule) {
      if (one >= 0) {
        own[one]! += 1;
      }
    }
    own.forEach((count, one) => looks.set(keys[r]![one]!, (looks.get(keys[r]![one]!) ?? 0) + count));
  });
  const all = [...looks.keys()]; // in the order of the plans
  const often = new Set([...all].filter((key) => looks.get(key)! > 0).sort((a, b) => looks.get(b)! - looks.get(a)!).slice(0, rules.length));
  const coloured = new Map(all.filter((key) => often.has(key)).map((key, i) => [key, rules[i]!]));
  return keys.map((own) => new Map([[-1, noRule], ...own.map((key, one): [number, string] => [one, coloured.get(key) ?? otherRule])]));
}

/** One of the page's own colours, as the style says it for light and dark. */
export function own(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
}

/** Marks of moments: told apart by their shapes. */
export const marks: Record<string, string> = {
  start: "▷",
  place: "●",
  junction: "◆",
  said: "▲",
  lost: "✕",
  unanswered: "?",
  touched: "✱",
  end: "■",
};
