/** One sheet of shortcuts, on the question mark. */
import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";

import { switchSingleKeys, useSingleKeys } from "../ui/keys";
import { Button } from "../ui/parts";

const KEYS: [string, string][] = [
  ["← →", "along the line"],
  ["↑ ↓", "from line to line"],
  ["Enter", "change the selected part"],
  ["C", "on Landings: cap the conductor's end in hand"],
  ["Esc", "back to the drawing; an unfinished entry is dropped"],
  ["Ctrl Z", "take back"],
  ["Ctrl Shift Z", "bring back"],
  ["H", "history: who changed what and when"],
  ["1 to 7", "Site, Lines, Landings, Bench, Supply, Start-up, Handover"],
  ["P", "panels: spaces and demand"],
  ["D", "does a unit suit its room"],
  ["R", "rules that hold here"],
  ["O", "everything that is open"],
  [", .", "on the bench: a step back, a step on"],
  ["0", "on the bench: let all go, from cold"],
  ["X", "on the bench: as lines, or as it hangs"],
  ["I", "all installs"],
  ["?", "this sheet"],
];

export function Shortcuts({ open, onClose }: { open: boolean; onClose: () => void }) {
  const single = useSingleKeys();
  return (
    <Dialog open={open} onClose={onClose} className="relative z-20">
      <div className="fixed inset-0 bg-ink/40" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-4">
        <DialogPanel className="w-full max-w-md bg-sheet p-7">
          <DialogTitle className="text-xl font-bold">Keys</DialogTitle>
          <dl className="mt-4 grid grid-cols-[8rem_1fr] gap-y-2">
            {KEYS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="font-semibold">{key}</dt>
                <dd className="text-soft">{what}</dd>
              </div>
            ))}
          </dl>
          <label className="mt-5 flex min-h-11 items-center gap-3 border-t border-rule pt-3">
            <input
              type="checkbox"
              className="size-5 accent-copper"
              checked={single}
              onChange={(event) => switchSingleKeys(event.target.checked)}
            />
            Keys of one letter or digit
          </label>
          <Button className="mt-3" onClick={onClose} autoFocus>
            Close
          </Button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
