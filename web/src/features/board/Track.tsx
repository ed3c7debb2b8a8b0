/** How far an install has come, as a line with its stations. */
import type { InstallOut } from "../../api/client";

const MILESTONES = [
  { id: "lines", name: "Planning" },
  { id: "start-up", name: "Start-up" },
  { id: "handover", name: "Handover" },
] as const;

function reached(install: InstallOut): number {
  return install.station === "signed"
    ? MILESTONES.length
    : MILESTONES.findIndex((station) => station.id === install.station);
}

const TRACK = 176;

export function Track({ install }: { install: InstallOut }) {
  const at = reached(install);
  const stuck = Boolean(install.stuck_on);
  const step = TRACK / (MILESTONES.length - 1);
  const end = Math.min(TRACK, at * step + (at < MILESTONES.length - 1 ? step * 0.35 : 0));
  const name = MILESTONES[at]?.name ?? "Signed";
  return (
    <svg viewBox={`-6 -4 240 50`} width="228" height="48" role="img" aria-label={`At ${name}${stuck ? ", stuck" : ""}`}>
      <path d={`M0 10H${TRACK}`} stroke="#b9ab92" strokeWidth="2" />
      <path d={`M0 10H${end}`} stroke="#1b2126" strokeWidth="4.5" />
      {MILESTONES.map((station, index) => (
        <g key={station.id}>
          <path
            d={`M${index * step} 2v16`}
            stroke={index <= at ? "#1b2126" : "#b9ab92"}
            strokeWidth={index === at ? 7 : 4}
          />
          <text
            x={index * step - 3}
            y="36"
            fontSize="13"
            fontWeight={index === at ? 650 : 400}
            fill={index === at ? "#1b2126" : "#474c50"}
          >
            {station.name}
          </text>
        </g>
      ))}
      {stuck && <path d={`M${end - 12} 0l7 20M${end} 0l7 20`} stroke="#96181c" strokeWidth="4" />}
    </svg>
  );
}
