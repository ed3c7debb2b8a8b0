/** A unit's plate as it is riveted to its side: what it says, and nothing that it does not. */
import type { CatalogueModel } from "../../api/client";
import { say } from "../../drawing/parts";
import { kindName } from "../../plan/kinds";

type Model = CatalogueModel["model"];
const FOR = { fuse: "fuse only", breaker: "breaker only", fuse_or_breaker: "fuse or breaker" } as const;

export function PlateDrawing({ model }: { model: Model }) {
  return (
    <figure
      aria-label={`Plate of ${model.model}`}
      className="relative rounded-md border-2 border-ink bg-sheet px-8 pt-4 pb-5"
    >
      {["top-2 left-2", "top-2 right-2", "bottom-2 left-2", "right-2 bottom-2"].map((corner) => (
        <i key={corner} className={`absolute size-2.5 rounded-full border-2 border-ink/60 ${corner}`} />
      ))}
      <figcaption className="flex flex-wrap items-baseline justify-between gap-x-6 border-b-2 border-ink pb-1">
        <b className="text-lg">{model.maker}</b>
        <span>
          model <b>{model.model}</b>
        </span>
      </figcaption>
      <p className="mt-1 text-sm text-soft">{model.name ?? kindName(model.kind)}</p>
      <dl className="mt-2">
        {marks(model).map(({ label, value, note }) => (
          <div key={label} className="flex items-baseline gap-x-3 border-t border-rule py-1 first:border-0">
            <dt className="grow text-soft">{label}</dt>
            <dd className="text-right">
              <b>{value}</b>
              {note && <span className="text-soft"> {note}</span>}
            </dd>
          </div>
        ))}
      </dl>
    </figure>
  );
}

interface PlateMark {
  label: string;
  value: string;
  note?: string;
}

/** What stands on the plate, in the order in which plates have it. */
export function marks({ nameplate: plate, cord_connected: cord }: Model): PlateMark[] {
  const rows: (PlateMark | null)[] = [
    plate.volts
      ? { label: "volts", value: `${plate.volts} V`, note: plate.phase ? `${String(plate.phase)} phase` : "" }
      : null,
    figure("minimum circuit ampacity", plate.mca_a),
    figure("maximum fuse or breaker", plate.max_ocpd_a, plate.max_ocpd_type ? FOR[plate.max_ocpd_type] : ""),
    figure("minimum fuse or breaker", plate.min_ocpd_a),
    ...(plate.compressors ?? []).flatMap((row, index) => [
      figure(numbered("compressor RLA", plate.compressors, index), row.rla_a),
      figure(numbered("branch-circuit selection current", plate.compressors, index), row.bcsc_a),
      figure(numbered("locked rotor LRA", plate.compressors, index), row.lra_a),
    ]),
    ...(plate.motors ?? []).map((row, index) => figure(numbered("motor FLA", plate.motors, index), row.fla_a)),
    plate.heat ? { label: "heat", value: say(plate.heat.watts / 1000, "kW", 2) } : null,
    figure("amperes", plate.amps),
    plate.watts == null ? null : { label: "watts", value: say(plate.watts, "W") },
    plate.supply_cfm == null ? null : { label: "supply air", value: say(plate.supply_cfm, "cfm") },
    cord ? { label: "connected by", value: "cord and plug" } : null,
  ];
  return rows.filter((row) => row !== null);
}

function figure(label: string, value: number | null | undefined, note = ""): PlateMark | null {
  return value == null ? null : { label, value: say(value, "A", 2), note };
}

function numbered(label: string, rows: readonly unknown[] | null | undefined, index: number): string {
  return (rows?.length ?? 0) > 1 ? `${label} ${String(index + 1)}` : label;
}
