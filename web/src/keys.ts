// What keys do, wherever they mean nothing else.

import type { Doings } from "./controls.js";
import type { Player } from "./player.js";

export const keyHelp: [string, string][] = [
  ["space", "play, stop"],
  ["left, right", "a look back, on; with Shift 25"],
  ["Home, End", "start, end"],
  ["p, n", "last, next event"],
  ["[, ]", "slower, faster"],
  ["r", "forward or backwards"],
  ["1 to 9", "this run"],
  ["+, -, 0", "zoom, all of the course"],
  ["f", "keep the robot in the middle"],
  ["b", "maps beside each other, or one"],
];

export function listenToKeys(player: Player, runs: number, doings: Doings, until: AbortSignal): void {
  const does: Record<string, () => void> = {
    " ": () => player.toggle(),
    Home: () => player.go(0),
    End: () => player.go(player.end),
    p: () => doings.moment(-1),
    n: () => doings.moment(1),
    "[": () => player.faster(-1),
    "]": () => player.faster(1),
    r: () => player.set(player.speed, -player.direction),
    "+": () => doings.zoom(1.4),
    "=": () => doings.zoom(1.4),
    "-": () => doings.zoom(1 / 1.4),
    "0": () => doings.fit(),
    f: () => doings.follow(),
    b: () => doings.layout(),
  };
  document.addEventListener("keydown", (event) => {
    const at = event.target instanceof HTMLElement ? event.target : document.body;
    const takes = at.matches("input:not([type=checkbox]):not([type=radio]), select, textarea");
    const isPressed = event.key === " " && at.matches("button, summary, input");
    if (event.ctrlKey || event.metaKey || event.altKey || takes || isPressed) {
      return;
    }
    let action = does[event.key];
    if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
      if (at.matches("[role=tab], input")) {
        return;
      }
      action = () => doings.look((event.key === "ArrowLeft" ? -1 : 1) * (event.shiftKey ? 25 : 1));
    }
    if (/^[1-9]$/.test(event.key) && Number(event.key) <= runs && runs > 1) {
      action = () => doings.select(Number(event.key) - 1);
    }
    if (action !== undefined) {
      event.preventDefault();
      action();
    }
  }, { signal: until });
}
