/** An install on the board: the line of its stations, what is next or what it is stuck on, and what can be done to it. */
import { useState } from "react";
import { Link } from "react-router";

import type { InstallOut } from "../../api/client";
import { Button, Mark } from "../../ui/parts";
import { Track } from "./Track";
import type { Shelves } from "./useShelves";

interface Props {
  install: InstallOut;
  /** Absent for who may not plan. */
  shelves: Shelves | null;
}

export function Row({ install, shelves }: Props) {
  const [more, setMore] = useState(false);
  const stuck = Boolean(install.stuck_on);
  const station = install.station === "signed" ? "handover" : install.station;
  return (
    <li className={`border-b border-rule ${more ? "bg-sheet" : ""}`}>
      <div className="flex flex-wrap items-start md:px-3 md:hover:bg-sheet">
        <Opened install={install} to={`/installs/${install.id}/${station}`}>
          <span>
            <span className="block text-lg font-bold">{install.name}</span>
            <span className="text-soft">{install.site}</span>
          </span>
          <Track install={install} />
          <span className="flex items-start gap-3">
            {stuck ? (
              <>
                <span className="pt-0.5 text-stop">
                  <Mark severity="stop" />
                </span>
                <span>
                  <b className="block text-stop">{install.stuck_on}</b>
                  <span className="text-soft">{install.next}</span>
                </span>
              </>
            ) : (
              <span>
                <b className="block">{install.next}</b>
                {install.station !== "signed" && <span className="text-soft">Next</span>}
              </span>
            )}
          </span>
        </Opened>
        {shelves && (
          <button
            type="button"
            aria-expanded={more}
            className="my-3 min-h-11 px-2 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
            onClick={() => setMore((shown) => !shown)}
          >
            {more ? "Less" : "More"}
            <span className="sr-only"> about {install.name}</span>
          </button>
        )}
      </div>
      {more && shelves && <Deeds install={install} shelves={shelves} onDone={() => setMore(false)} />}
    </li>
  );
}

/** The way into an install; what is deleted has none. */
function Opened({ install, to, children }: { install: InstallOut; to: string; children: React.ReactNode }) {
  const look = "grid min-w-0 flex-1 gap-x-8 gap-y-2 py-4 md:grid-cols-[17rem_15rem_1fr]";
  if (install.shelf === "deleted") return <div className={look}>{children}</div>;
  return (
    <Link to={to} className={look}>
      {children}
    </Link>
  );
}

function Deeds({ install, shelves, onDone }: { install: InstallOut; shelves: Shelves; onDone: () => void }) {
  const [name, setName] = useState(install.name);
  const done = (work: Promise<boolean>) => void work.then((well) => well && onDone());
  const { shelf } = install;
  if (shelf === "deleted")
    return (
      <p className="flex flex-wrap items-center gap-3 pb-4 md:px-3">
        <Button kind="main" onClick={() => done(shelves.put(install, "open"))}>
          Bring it back
        </Button>
        <span className="text-soft">It goes for good on {shelves.goesOn(install)}.</span>
      </p>
    );
  return (
    <div className="flex flex-wrap items-center gap-3 pb-4 md:px-3">
      <form
        className="flex flex-wrap items-center gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          done(shelves.rename(install, name.trim()));
        }}
      >
        <input
          aria-label={`New name of ${install.name}`}
          className="min-h-11 w-64 border-b-2 border-ink/50 bg-transparent px-2 focus:border-copper"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button type="submit" disabled={!name.trim() || name.trim() === install.name}>
          Rename
        </Button>
      </form>
      {shelf === "open" && (
        <Button onClick={() => done(shelves.template(install, name.trim() || install.name))}>Save as a template</Button>
      )}
      {shelf === "open" && <Button onClick={() => done(shelves.put(install, "archived"))}>Archive</Button>}
      {shelf === "archived" && <Button onClick={() => done(shelves.put(install, "open"))}>Bring it back</Button>}
      {install.signed_revision == null ? (
        <Button onClick={() => done(shelves.put(install, "deleted"))}>Delete</Button>
      ) : (
        <span className="text-soft">Signed: its record is kept, it cannot be deleted.</span>
      )}
    </div>
  );
}
