// Elements made of names and texts. Nothing here or elsewhere reads a text as markup.

type Child = Node | string | null;

/** An element with attributes and what is in it. An attribute that is false is left out, one that is true is empty. */
export function make<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  attributes: Record<string, string | number | boolean> = {},
  ...children: Child[]
): HTMLElementTagNameMap[K] {
  const element = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) {
    if (value !== false) {
      element.setAttribute(name, value === true ? "" : String(value));
    }
  }
  for (const child of children) {
    if (child !== null) {
      element.append(child);
    }
  }
  return element;
}

export function button(text: string, label: string, does: () => void): HTMLButtonElement {
  const made = make("button", { type: "button", "aria-label": label, title: label }, text);
  made.addEventListener("click", does);
  return made;
}

/** A table with a caption, a row of headings, and rows whose first cell is a heading of its own. */
export function table(caption: string, head: string[], rows: (string | Node)[][]): HTMLElement {
  const cells = (row: (string | Node)[]): HTMLElement =>
    make("tr", {}, ...row.map((cell, i) => (i === 0 ? make("th", { scope: "row" }, cell) : make("td", {}, cell))));
  return make(
    "div",
    { class: "wide", tabindex: 0, role: "region", "aria-label": caption },
    make(
      "table",
      {},
      make("caption", {}, caption),
      head.every((words) => words === "") ? null : make("thead", {}, make("tr", {}, ...head.map((words) => make("th", { scope: "col" }, words)))),
      make("tbody", {}, ...rows.map(cells)),
    ),
  );
}

/** A canvas with as many points as the screen has there; drawn anew when its size changes. */
export function sharpen(canvas: HTMLCanvasElement, width: number, height: number): CanvasRenderingContext2D {
  const sharp = window.devicePixelRatio || 1;
  canvas.width = Math.max(1, Math.round(width * sharp));
  canvas.height = Math.max(1, Math.round(height * sharp));
  const context = canvas.getContext("2d");
  if (context === null) {
    throw new Error("this browser draws no pictures");
  }
  context.setTransform(sharp, 0, 0, sharp, 0, 0);
  return context;
}

/** Canvases over each other as one picture for paper, which takes their place there: what is printed must not depend
 * on how wide the screen was. It stands in the element until it is made anew. */
export function paperPicture(canvases: HTMLCanvasElement[], within: HTMLElement): void {
  const first = canvases[0];
  within.querySelector(":scope > .paper")?.remove();
  if (first === undefined || first.width < 2) {
    return;
  }
  const all = make("canvas", { width: first.width, height: first.height });
  const context = all.getContext("2d");
  canvases.forEach((canvas) => context?.drawImage(canvas, 0, 0));
  within.append(make("img", { class: "paper", alt: "", src: all.toDataURL("image/png") }));
}
