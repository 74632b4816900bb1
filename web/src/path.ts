// A path of many looks by as few points as the eye needs.

/**
 * The numbers of the points to keep so that no other lies farther than `off` from the lines between them, between two
 * given ones included (D. Douglas, T. Peucker: Algorithms for the reduction of the number of points required to
 * represent a digitized line or its caricature, Cartographica 10, 1973).
 */
export function simplified(x: Float64Array, y: Float64Array, from: number, to: number, off: number): number[] {
  const keep = new Uint8Array(to - from + 1);
  const parts: number[] = [];
  // In parts of bounded length, so that a path that winds much is not slow.
  for (let i = from; i < to; i += 512) {
    const end = Math.min(i + 512, to);
    keep[end - from] = 1;
    parts.push(i, end);
  }
  keep[0] = 1;
  while (parts.length > 0) {
    const b = parts.pop()!;
    const a = parts.pop()!;
    const dx = x[b]! - x[a]!;
    const dy = y[b]! - y[a]!;
    const long = dx * dx + dy * dy;
    let most = off * off;
    let at = -1;
    for (let i = a + 1; i < b; ++i) {
      const px = x[i]! - x[a]!;
      const py = y[i]! - y[a]!;
      const along = long > 0 ? Math.min(Math.max((px * dx + py * dy) / long, 0), 1) : 0;
      const [ax, ay] = [px - along * dx, py - along * dy];
      const aside = ax * ax + ay * ay;
      if (aside > most) {
        most = aside;
        at = i;
      }
    }
    if (at >= 0) {
      keep[at - from] = 1;
      parts.push(a, at, at, b);
    }
  }
  const kept: number[] = [];
  for (let i = from; i <= to; ++i) {
    if (keep[i - from] === 1) {
      kept.push(i);
    }
  }
  return kept;
}

/** A stretch on which one rule acts: its number, first look, last look. */
export interface Spell {
  rule: number;
  from: number;
  to: number;
}

export function spells(rule: Float64Array): Spell[] {
  const list: Spell[] = [];
  for (let i = 0; i < rule.length; ) {
    const from = i;
    while (i < rule.length && rule[i] === rule[from]) {
      ++i;
    }
    list.push({ rule: rule[from]!, from, to: i - 1 });
  }
  return list;
}
