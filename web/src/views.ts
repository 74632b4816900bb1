// The pages of the page: tabs, of which one is shown; on paper all of them are.

import { make } from "./dom.js";

export interface View {
  id: string;
  name: string;
  element: HTMLElement;
}

export class Views {
  readonly element: HTMLElement;
  readonly tabs: HTMLElement;
  private readonly buttons: HTMLButtonElement[] = [];
  current: string;

  constructor(
    private readonly views: View[],
    private readonly changed: () => void,
  ) {
    this.current = views[0]!.id;
    this.tabs = make("div", { role: "tablist", class: "tabs", "aria-label": "pages" });
    this.element = make("div", {});
    views.forEach((view, i) => {
      const tab = make("button", { type: "button", role: "tab", id: `tab-${view.id}`, "aria-controls": `view-${view.id}` }, view.name);
      tab.addEventListener("click", () => this.show(view.id));
      tab.addEventListener("keydown", (event) => {
        const by = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
        const next = views[(i + by + views.length) % views.length];
        if (by !== 0 && next !== undefined) {
          this.show(next.id);
          this.buttons[views.indexOf(next)]!.focus();
        }
      });
      this.buttons.push(tab);
      this.tabs.append(tab);
      view.element.id = `view-${view.id}`;
      view.element.setAttribute("role", "tabpanel");
      view.element.setAttribute("aria-labelledby", tab.id);
      this.element.append(view.element);
    });
    this.show(this.current);
  }

  show(id: string): void {
    if (!this.views.some((view) => view.id === id)) {
      return;
    }
    this.current = id;
    this.views.forEach((view, i) => {
      const isShown = view.id === id;
      view.element.classList.toggle("away", !isShown);
      this.buttons[i]!.setAttribute("aria-selected", String(isShown));
      this.buttons[i]!.tabIndex = isShown ? 0 : -1;
    });
    this.changed();
  }
}
