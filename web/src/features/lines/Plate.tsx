/** A photo of a unit's plate: read by the server, each field beside its piece of the picture, taken only when pressed. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, freshKey, type Offer, type Patch, type Photo, post } from "../../api/client";
import { contentOf, usePhotos } from "../../plan/usePhotos";
import type { PlanHandle } from "../../plan/usePlan";
import { AddPhoto } from "../../ui/PhotoStrip";
import { Button, Mark } from "../../ui/parts";

const ASK_MS = 700;
/** Around a value some of the plate is shown too, in shares of its height. */
const MARGIN = 0.6;

interface Props {
  plan: PlanHandle;
  unit: string;
}

export function PlatePhoto({ plan, unit }: Props) {
  const install = plan.plan?.install.id ?? "";
  const photos = usePhotos(install);
  const [photo, setPhoto] = useState<Photo | null>(null);
  return (
    <section aria-label={`Plate of ${unit} from a photo`} className="mt-3">
      {!photo && (
        <AddPhoto
          one
          says="Photo of the plate"
          busy={photos.busy}
          onFiles={(files) => void photos.add(`equipment/${unit}`, files, true).then(setPhoto)}
        />
      )}
      {photos.trouble && (
        <p role="alert" className="mt-1 text-stop">
          {photos.trouble}
        </p>
      )}
      {photo && <Read install={install} photo={photo} unit={unit} plan={plan} onDone={() => setPhoto(null)} />}
    </section>
  );
}

interface ReadProps extends Props {
  install: string;
  photo: Photo;
  onDone: () => void;
}

function Read({ install, photo, unit, plan, onDone }: ReadProps) {
  const revision = plan.plan?.install.revision;
  const [pressed, setPressed] = useState<Record<string, boolean>>({});
  const [trouble, setTrouble] = useState<string | null>(null);
  const read = useQuery({
    queryKey: ["photo", photo.id, revision],
    queryFn: async () =>
      data(
        await api.GET("/api/installs/{install_id}/photos/{photo_id}", {
          params: { path: { install_id: install, photo_id: photo.id } },
        }),
      ),
    refetchInterval: (query) => (query.state.data?.reading === "queued" ? ASK_MS : false),
  });
  const found = read.data;
  if (!found || found.reading === "queued")
    return (
      <p role="status" className="text-soft">
        Reading the plate. You can go on with the line meanwhile; the photo stays with the unit.
      </p>
    );
  const { offers } = found;
  if (found.reading === "failed" || offers.length === 0)
    return (
      <p role="status">
        Nothing could be read on it. Hold the phone straight, with the plate filling the picture and no glare, or type
        what it says. <Button onClick={onDone}>Another photo</Button>
      </p>
    );
  const isTaken = (offer: Offer) => offer.takes && !offer.stands && (pressed[offer.field] ?? offer.sure);
  const chosen = offers.filter(isTaken);
  const take = async () => {
    setTrouble(null);
    const sent = await post<{ patch: Patch }>(`/api/installs/${install}/photos/${photo.id}/takings`, freshKey(), {
      fields: chosen.map((offer) => offer.field),
    });
    if (sent.kind === "done") {
      plan.change(sent.body.patch, `From the plate of ${unit}`);
      onDone();
    } else setTrouble(sent.kind === "refused" ? sent.problem.detail : "Leitung does not answer. Take it again.");
  };
  return (
    <div>
      <h3 className="font-bold">As read on the plate</h3>
      <p className="text-sm text-soft">
        Compare each with its piece of the photo. Dashed: look again before you take it.
      </p>
      <ul className="mt-2">
        {offers.map((offer) => (
          <li key={offer.field} className="border-t border-rule py-2 first:border-0">
            <button
              type="button"
              aria-pressed={offer.takes ? isTaken(offer) : undefined}
              disabled={!offer.takes || offer.stands}
              className="grid w-full grid-cols-[9rem_1fr_auto] items-center gap-3 text-left"
              onClick={() => setPressed((was) => ({ ...was, [offer.field]: !isTaken(offer) }))}
            >
              <Piece install={install} photo={found} box={offer.box} says={offer.shown} />
              <span>
                <b className={`border-b-2 ${offer.sure ? "border-solid" : "border-dashed"} border-ink`}>
                  {offer.shown}
                </b>
                <span className="block text-sm text-soft">{offer.says}</span>
              </span>
              <span className={`text-sm ${isTaken(offer) ? "font-bold" : "text-soft"}`}>
                {offer.stands ? "in the plan" : !offer.takes ? "shown only" : isTaken(offer) ? "take" : "leave"}
              </span>
            </button>
            {offer.doubted && (
              <p className="mt-1 flex gap-2 text-sm font-semibold text-warning">
                <Mark severity="warning" /> {offer.doubted}
              </p>
            )}
          </li>
        ))}
      </ul>
      <div className="sticky bottom-0 flex flex-wrap gap-2 border-t border-rule bg-sheet py-3">
        {trouble && (
          <p role="alert" className="w-full text-stop">
            {trouble}
          </p>
        )}
        <Button kind="main" disabled={chosen.length === 0} onClick={() => void take()}>
          {chosen.length ? `Take ${chosen.length}` : "Nothing to take"}
        </Button>
        <Button onClick={onDone}>Not now</Button>
      </div>
    </div>
  );
}

/** The piece of the photo where a value stands. */
function Piece({ install, photo, box, says }: { install: string; photo: Photo; box: number[]; says: string }) {
  const [x = 0, y = 0, width = 1, height = 1] = box;
  const edge = height * MARGIN;
  return (
    <svg
      viewBox={`${x - edge} ${y - edge} ${width + 2 * edge} ${height + 2 * edge}`}
      className="h-12 w-36 border border-faint bg-paper"
      role="img"
      aria-label={`The photo where ${says} was read`}
    >
      <image href={contentOf(install, photo)} width={photo.width ?? 0} height={photo.height ?? 0} />
    </svg>
  );
}
