/** The name, drawn as what the product is about: a line leaving its bus. */
export function Wordmark({ short }: { short?: boolean }) {
  return (
    <span className="inline-flex items-center gap-2 text-xl font-bold tracking-tight">
      <svg viewBox="0 0 30 24" width="30" height="24" aria-hidden>
        <path d="M5 0v24" stroke="currentColor" strokeWidth="5" />
        <path d="M7 12h23" stroke="#a8481b" strokeWidth="3.5" />
      </svg>
      <span className={short ? "max-sm:sr-only" : ""}>Leitung</span>
    </span>
  );
}
