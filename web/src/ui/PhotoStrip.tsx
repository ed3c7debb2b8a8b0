/** The photos of one thing, and a way to add one; pressed, a photo is shown whole. */
import { useEffect, useRef, useState } from "react";

import type { Photo } from "../api/client";
import { contentOf, useKeptPhotos, usePhotos } from "../plan/usePhotos";
import { Button } from "./parts";
import { when } from "./when";

interface Props {
  install: string;
  /** The thing's address. */
  about: string;
  /** What it is called, for who cannot see the photos. */
  name: string;
  readOnly: boolean;
}

export function PhotoStrip({ install, about, name, readOnly }: Props) {
  const photos = usePhotos(install);
  const [open, setOpen] = useState<Photo | null>(null);
  const mine = photos.all.filter((photo) => photo.about === about);
  const kept = useKeptPhotos(install, about);
  if (!install || (readOnly && mine.length === 0 && kept === 0)) return null;
  return (
    <section aria-label={`Photos of ${name}`} className="mt-3">
      <div className="flex flex-wrap items-center gap-2">
        {mine.map((photo) => (
          <button
            key={photo.id}
            type="button"
            className="h-16 w-20 overflow-hidden rounded-xs border border-faint bg-paper hover:border-copper"
            onClick={() => setOpen(photo)}
          >
            {photo.kind.startsWith("image/") ? (
              <img
                src={contentOf(install, photo)}
                alt={`${photo.name}, ${when(photo.at)}`}
                loading="lazy"
                className="size-full object-cover"
              />
            ) : (
              <span className="block truncate px-1 text-sm">{photo.name}</span>
            )}
          </button>
        ))}
        {kept > 0 && (
          <span className="text-sm text-soft">
            {kept === 1 ? "1 photo" : `${String(kept)} photos`} kept here, not sent yet
          </span>
        )}
        {!readOnly && (
          <AddPhoto busy={photos.busy} says="Add a photo" onFiles={(files) => void photos.add(about, files)} />
        )}
      </div>
      {photos.trouble && (
        <p role="alert" className="mt-1 text-stop">
          {photos.trouble}
        </p>
      )}
      {open && (
        <Whole
          photo={open}
          install={install}
          readOnly={readOnly}
          onClose={() => setOpen(null)}
          onTakeOut={() => void photos.takeOut(open).then(() => setOpen(null))}
        />
      )}
    </section>
  );
}

interface AddProps {
  says: string;
  busy: boolean;
  onFiles: (files: File[]) => void;
  one?: boolean;
}

/** Takes a photo on a phone, chooses one elsewhere. */
export function AddPhoto({ says, busy, onFiles, one }: AddProps) {
  return (
    <label className="inline-flex min-h-11 cursor-pointer items-center rounded-sm border border-ink/60 px-4 font-semibold focus-within:border-copper hover:border-copper">
      {busy ? "Sending …" : says}
      <input
        type="file"
        accept={one ? "image/*" : "image/*,application/pdf"}
        multiple={!one}
        disabled={busy}
        className="sr-only"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          if (files.length) onFiles(files);
          event.target.value = "";
        }}
      />
    </label>
  );
}

interface WholeProps {
  photo: Photo;
  install: string;
  readOnly: boolean;
  onClose: () => void;
  onTakeOut: () => void;
}

function Whole({ photo, install, readOnly, onClose, onTakeOut }: WholeProps) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  const src = contentOf(install, photo);
  return (
    <dialog
      ref={dialog}
      aria-label={photo.name}
      className="m-auto max-h-[92dvh] max-w-[94vw] border-2 border-ink bg-sheet p-3 text-ink backdrop:bg-ink/60"
      onClose={onClose}
    >
      {photo.kind.startsWith("image/") ? (
        <img src={src} alt={photo.name} className="max-h-[76dvh] max-w-full" />
      ) : (
        <a className="underline" href={src}>
          Save {photo.name}
        </a>
      )}
      <p className="mt-2 text-soft">
        {photo.name}, {photo.author}, {when(photo.at)}
      </p>
      <div className="mt-2 flex gap-2">
        <Button kind="main" onClick={() => dialog.current?.close()}>
          Close
        </Button>
        {!readOnly && <Button onClick={onTakeOut}>Take it out</Button>}
      </div>
    </dialog>
  );
}
