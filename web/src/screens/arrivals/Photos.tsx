/** Photos of what arrived: added, looked at, deleted. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { addArrivalPhoto, deleteArrivalPhoto } from "../../api/arrivals";
import { FileButton } from "../../ui/FileButton";
import { ProblemNote } from "../../ui/parts";
import type { Arrival } from "./shown";

export function Photos({ arrival }: { arrival: Arrival }) {
  const [ids, setIds] = useState(arrival.photos);
  const add = useMutation(addArrivalPhoto());
  const drop = useMutation(deleteArrivalPhoto());
  return (
    <div>
      <div className="flex flex-wrap items-center gap-2">
        {ids.map((id, at) => (
          <span key={id}>
            <a href={`/api/arrival-photos/${id}`} target="_blank" rel="noreferrer">
              <img
                src={`/api/arrival-photos/${id}`}
                alt={`What arrived, ${at + 1}`}
                className="size-16 rounded-part border border-line object-cover"
              />
            </a>
            <button
              type="button"
              aria-label={`Delete photo ${at + 1}`}
              className="block min-h-9 w-full text-small text-ink2 hover:text-stop"
              onClick={() => drop.mutate(id, { onSuccess: (left) => setIds(left.photos) })}
            >
              Delete
            </button>
          </span>
        ))}
        <FileButton
          text="Add a photo"
          accept="image/png,image/jpeg"
          onFile={(_, photo) =>
            add.mutate(
              { id: arrival.id, photo },
              { onSuccess: (made) => setIds((now) => [...now, made.id]) },
            )
          }
        />
        <span className="text-small text-ink2">without where it was taken</span>
      </div>
      <ProblemNote error={add.error ?? drop.error} />
    </div>
  );
}
