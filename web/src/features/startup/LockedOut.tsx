/** What has to be open and locked before a hand goes into a unit, worked out from the whole plan's network. */
import { useQuery } from "@tanstack/react-query";

import { api, data, type LockOut, type PlanDoc } from "../../api/client";
import { LockOutDrawing, type Way } from "../../drawing/LockOutDrawing";

interface Props {
  install: string;
  revision: number;
  line: string;
  document: PlanDoc | undefined;
}

export function LockedOut({ install, revision, line, document }: Props) {
  const query = useQuery({
    queryKey: ["lock-out", install, revision, line],
    queryFn: async () => {
      const path = { install_id: install, line };
      return data(await api.GET("/api/installs/{install_id}/lines/{line}/lock-out", { params: { path } }));
    },
    staleTime: Infinity,
    retry: false,
  });
  const found = query.data?.found;
  const unit = document?.circuits?.[line]?.equipment ?? line;
  return (
    <section aria-label="What has to be open" className="mb-2 border-l-[9px] border-ink pl-4">
      <h3 className="font-bold">What has to be open</h3>
      {query.isPending && <p className="text-soft">Working it out from the whole network …</p>}
      {query.isError && <p className="text-soft">Not worked out: Leitung does not answer. Take everything as live.</p>}
      {query.isSuccess && !found && (
        <p className="text-soft">
          Nothing of this unit is drawn on its terminals yet, so it cannot be worked out: take everything as live.
        </p>
      )}
      {found && <Found found={found} unit={unit} named={(name) => namedIn(document, name)} />}
    </section>
  );
}

/** A device, a unit or a source by its id, and as it is called; of a panel its main is meant. */
function namedIn(document: PlanDoc | undefined, name: string): string {
  const source = document?.sources?.[name];
  const own = document?.devices?.[name]?.name ?? document?.equipment?.[name]?.name ?? source?.name;
  const main = source?.kind === "panel" || source?.kind === "subpanel" ? "main of " : "";
  return own && own !== name ? `${main}${name}, ${own}` : main + name;
}

function Found({ found, unit, named }: { found: LockOut; unit: string; named: (name: string) => string }) {
  const ways: Way[] = [
    ...found.open.map((row) => ({
      key: `${row.kind} ${row.device}`,
      open: true,
      words: (
        <>
          <b>
            {row.kind} {named(row.device)}
          </b>{" "}
          <span className="text-soft">({row.why})</span>
        </>
      ),
    })),
    ...found.stays_live.map((strip) => ({
      key: strip.at,
      open: false,
      words: `${strip.at} stays live, up to ${strip.volts.toFixed(0)} V: ${strip.why}.`,
    })),
  ];
  return (
    <>
      <LockOutDrawing unit={unit} ways={ways} proved={found.proved} />
      {found.also.length > 0 && (
        <p className="mt-1 text-soft">Or: {found.also.map((names) => names.map(named).join(" and ")).join("; or ")}.</p>
      )}
      <p className={found.proved ? "text-soft" : "font-semibold text-stop"}>
        {found.proved
          ? `With that open the solver finds it dead in all of ${String(found.states)} states of calls, causes and contacts.`
          : "The solver does not find it dead with that open."}
      </p>
      {found.cautions.map((caution) => (
        <p key={caution} className="text-soft">
          {caution}
        </p>
      ))}
    </>
  );
}
