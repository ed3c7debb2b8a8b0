/** What to set at each device, as it follows from the plan and its wiring; each setting made is recorded. */
import type { PlanHandle } from "../../plan/usePlan";
import { useRecord } from "../../plan/useRecord";
import { SettingRow } from "../../ui/SettingRow";

interface Props {
  system: string;
  plan: PlanHandle;
  canRecord: boolean;
}

export function SetUp({ system, plan, canRecord }: Props) {
  const record = useRecord(plan.plan?.install.id ?? "");
  if (!record.data) return <p className="mt-5 text-soft">Reading the record …</p>;
  const rows = record.data.set_up.filter((row) => row.system === system);
  const devices = [...new Set(rows.map((row) => row.device))];
  if (!rows.length) return <p className="mt-5 text-soft">Nothing in this system has a setting.</p>;
  return (
    <div className="mt-3 max-w-3xl">
      <p className="text-soft">
        {rows.filter((row) => row.done).length} of {rows.length} set. Each is kept in the record with who and when; a
        setting that the plan changes is asked for again.
      </p>
      {devices.map((device) => (
        <section key={device} aria-label={device} className="mt-4">
          <h2 className="text-lg font-bold">{device}</h2>
          <ul>
            {rows
              .filter((row) => row.device === device)
              .map((row) => (
                <SettingRow key={row.key} row={row} plan={plan} canRecord={canRecord} />
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}
