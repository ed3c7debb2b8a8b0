/** Shared accessible parts. */
import type { ButtonHTMLAttributes, ReactNode } from "react";

import type { Finding } from "../api/client";

export function Button({
  kind = "quiet",
  className = "",
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: "main" | "quiet" }) {
  const look =
    kind === "main"
      ? "bg-ink text-sheet hover:bg-copper-deep disabled:bg-faint"
      : "border border-ink/60 hover:border-copper hover:text-copper-deep disabled:border-rule disabled:text-soft";
  return <button type="button" className={`min-h-11 rounded-sm px-4 font-semibold ${look} ${className}`} {...rest} />;
}

/** The shape of a finding: a cut for a stop, a bend for a warning, a dot for a note. Shape first, colour second. */
export function Mark({ severity }: { severity: Finding["severity"] }) {
  return (
    <svg viewBox="0 0 24 24" width="22" height="22" aria-hidden className="shrink-0">
      {severity === "stop" && (
        <>
          <path d="M0 12h7M17 12h7" stroke="currentColor" strokeWidth="3.5" />
          <path d="M8 4l4 16M13 4l4 16" stroke="currentColor" strokeWidth="2.6" />
        </>
      )}
      {severity === "warning" && <path d="M0 17h5l4-9h6l4 9h5" fill="none" stroke="currentColor" strokeWidth="3" />}
      {severity === "note" && (
        <>
          <path d="M0 12h24" stroke="currentColor" strokeWidth="2" />
          <circle cx="12" cy="12" r="4.5" fill="currentColor" />
        </>
      )}
    </svg>
  );
}

export const severityColour: Record<Finding["severity"], string> = {
  stop: "text-stop",
  warning: "text-warning",
  note: "text-soft",
};

export function Message({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-xl px-6 py-20">
      <h1 className="text-2xl font-bold">{title}</h1>
      <div className="mt-3 text-soft">{children}</div>
    </div>
  );
}

/** In the place of a screen that the server did not give. */
export function NotShown({ what, children }: { what: string; children?: ReactNode }) {
  return (
    <Message title={`${what} cannot be shown`}>
      <p>Leitung does not answer. Nothing is lost.</p>
      {children}
    </Message>
  );
}
