/** For tests: an element on a page with addresses, and what is seen of it. */
import { act, type ReactElement } from "react";
import { createRoot, type Root } from "react-dom/client";
import { MemoryRouter } from "react-router";
import { vi } from "vitest";

// The tests' window knows no media: it is a light one.
Object.defineProperty(window, "matchMedia", {
  configurable: true,
  value: () => ({ matches: false, addEventListener: () => undefined }),
});

export class Mounted {
  readonly host: HTMLElement;
  private readonly root: Root;

  constructor() {
    vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
    this.host = document.body.appendChild(document.createElement("div"));
    this.root = createRoot(this.host);
  }

  show(element: ReactElement) {
    act(() => this.root.render(<MemoryRouter>{element}</MemoryRouter>));
    return this.host;
  }

  /** What a person reads of each element that matches, white space as one. */
  texts(selector: string): string[] {
    return [...this.host.querySelectorAll(selector)].map((found) => found.textContent.replace(/\s+/g, " ").trim());
  }

  press(selector: string) {
    act(() => this.host.querySelector<HTMLElement>(selector)?.click());
  }

  leave() {
    act(() => this.root.unmount());
    this.host.remove();
  }
}
