// The moment in the page's address, so that a link leads to it: #t=4.26&run=B&view=trips.

export interface Shown {
  t: number;
  run: number;
  view: string;
}

export function readAddress(hash: string): Partial<Shown> {
  const parts = new URLSearchParams(hash.replace(/^#/, ""));
  const out: Partial<Shown> = {};
  const t = Number(parts.get("t") ?? "x");
  if (Number.isFinite(t) && t >= 0) {
    out.t = t;
  }
  const run = /^([A-Z])(\d{0,2})$/.exec(parts.get("run") ?? "");
  if (run !== null) {
    out.run = run[1]!.charCodeAt(0) - 65 + 26 * Number(run[2] === "" ? 0 : run[2]);
  }
  const view = parts.get("view");
  if (view !== null) {
    out.view = view;
  }
  return out;
}

export function written(shown: Shown, letterOf: (run: number) => string): string {
  const parts = [`t=${shown.t.toFixed(3)}`];
  if (shown.run > 0) {
    parts.push(`run=${letterOf(shown.run)}`);
  }
  if (shown.view !== "run") {
    parts.push(`view=${encodeURIComponent(shown.view)}`);
  }
  return `#${parts.join("&")}`;
}
