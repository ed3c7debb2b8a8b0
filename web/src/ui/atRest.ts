/** Carries out the last of several acts once nothing more comes for a while, or at once when it is told to. */
export class AtRest {
  private held: { timer: ReturnType<typeof setTimeout>; act: () => void } | null = null;

  constructor(private readonly restMs: number) {}

  readonly later = (act: () => void) => {
    if (this.held) clearTimeout(this.held.timer);
    this.held = { timer: setTimeout(this.now, this.restMs), act };
  };

  readonly now = () => {
    const held = this.held;
    this.held = null;
    if (!held) return;
    clearTimeout(held.timer);
    held.act();
  };

  /** Whatever else is begun in the window carries it out first: it can never come after what was done later. */
  readonly watch = (window: Window) => {
    const key = (event: KeyboardEvent) => {
      if (!event.key.startsWith("Arrow")) this.now();
    };
    const begun = ["pointerdown", "focusin", "pagehide"] as const;
    for (const kind of begun) window.addEventListener(kind, this.now, true);
    window.addEventListener("keydown", key, true);
    return () => {
      for (const kind of begun) window.removeEventListener(kind, this.now, true);
      window.removeEventListener("keydown", key, true);
      this.now();
    };
  };
}
