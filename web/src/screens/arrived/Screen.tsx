/** The buyer's page: did it arrive whole; if not, where. For a telephone, by finger. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { buyerPage, tellArrival } from "../../api/arrived";
import type { Schemas } from "../../api/client";
import { PLACES, PLACE_WORDS, placeWords, type Place } from "../../domain/arriving";
import { Outline } from "../../drawings/Outline";
import { FileButton } from "../../ui/FileButton";
import { Button, Mark, ProblemNote, Waiting } from "../../ui/parts";

type Page = Schemas["BuyerPageOut"];
type Outcome = Schemas["BuyerAnswerIn"]["outcome"];

const codeOf = (path: string) => path.split("/")[2] ?? "";

export function ArrivedScreen() {
  const code = codeOf(window.location.pathname);
  const page = useQuery(buyerPage(code));
  return (
    <main className="mx-auto min-h-screen max-w-xl bg-sheet px-6 py-8 text-lead">
      {page.isPending ? <Waiting what="your parcel" /> : null}
      {page.isError ? <ProblemNote error={page.error} /> : null}
      {page.data ? <Parcel code={code} page={page.data} /> : null}
    </main>
  );
}

function Parcel({ code, page }: { code: string; page: Page }) {
  const tell = useMutation(tellArrival(code));
  const [outcome, setOutcome] = useState<Outcome | null>(null);
  if (page.state === "answered" || tell.isSuccess)
    return (
      <>
        <h1 className="text-title">Thank you</h1>
        <p className="mt-2">What you said of order {page.number} is with the shop.</p>
      </>
    );
  if (page.state === "closed")
    return (
      <>
        <h1 className="text-title">This page is closed</h1>
        <p className="mt-2">It was open for 60 days. Please write to the shop.</p>
      </>
    );
  return (
    <>
      <h1 className="text-title">How did order {page.number} arrive?</h1>
      <p className="mt-1 text-ink2">
        {page.goods.map((one) => `${one.units} ${one.name}`).join(", ")}
      </p>
      <div className="mt-6 flex flex-col gap-3">
        <Button
          kind="next"
          className="min-h-14 justify-center text-lead"
          disabled={tell.isPending}
          onClick={() =>
            tell.mutate({ outcome: "whole", place: null, spot: "", message: "", photo: "" })
          }
        >
          <Mark kind="ok" /> Everything is whole
        </Button>
        {(["broken", "marked", "spoiled"] as const).map((one) => (
          <Button
            key={one}
            className="min-h-14 justify-center text-lead"
            aria-pressed={outcome === one}
            onClick={() => setOutcome(one)}
          >
            {WORDS[one]}
          </Button>
        ))}
      </div>
      <ProblemNote error={tell.error} />
      {outcome !== null && outcome !== "whole" ? (
        <Harm
          key={outcome}
          page={page}
          outcome={outcome}
          busy={tell.isPending}
          onSend={(body) => tell.mutate(body)}
        />
      ) : null}
    </>
  );
}

const WORDS = {
  broken: "Something is broken",
  marked: "Scratched or dented",
  spoiled: "Melted, frozen or gone off",
} as const;

function Harm({
  page,
  outcome,
  busy,
  onSend,
}: {
  page: Page;
  outcome: Outcome;
  busy: boolean;
  onSend: (body: Schemas["BuyerAnswerIn"]) => void;
}) {
  const [at, setAt] = useState<{ place: Place | null; spot: string }>({ place: null, spot: "" });
  const [message, setMessage] = useState("");
  const [photo, setPhoto] = useState({ name: "", content: "" });
  const [l, w, h] = page.outer_um;
  return (
    <form
      className="mt-6 flex flex-col gap-4 border-t border-line pt-4"
      onSubmit={(event) => {
        event.preventDefault();
        onSend({ outcome, ...at, message, photo: photo.content });
      }}
    >
      {outcome === "spoiled" ? null : (
        <div>
          <h2 className="text-lead">Where? Touch the place on the box, or choose it</h2>
          <Outline
            outer={[l ?? 300_000, w ?? 200_000, h ?? 200_000]}
            broken={[]}
            picked={at}
            onPoint={(place, spot) => setAt({ place, spot })}
          />
          <p role="status" className="text-center">
            {at.place === null ? "" : placeWords(at.place, at.spot)}
          </p>
          <div className="mt-2 flex flex-wrap gap-2">
            {PLACES.map((place) => (
              <button
                key={place}
                type="button"
                aria-pressed={at.place === place}
                className={`min-h-11 rounded-part border px-3 ${at.place === place ? "border-action bg-soft font-semibold text-action" : "border-line2"}`}
                onClick={() => setAt({ place, spot: "" })}
              >
                {PLACE_WORDS[place]}
              </button>
            ))}
          </div>
        </div>
      )}
      <label className="text-base text-ink2">
        What happened, in your words
        <textarea
          className="mt-1 block min-h-24 w-full rounded-part border border-line2 bg-sheet p-3 text-lead text-ink"
          maxLength={2000}
          value={message}
          onChange={(event) => setMessage(event.target.value)}
        />
      </label>
      <div className="flex flex-wrap items-center gap-3">
        <FileButton
          text="Add a photo"
          accept="image/png,image/jpeg"
          onFile={(name, content) => setPhoto({ name, content })}
        />
        <span className="text-base text-ink2">
          {photo.name || "Kept without where it was taken"}
        </span>
      </div>
      <Button
        type="submit"
        kind="next"
        className="min-h-14 justify-center text-lead"
        disabled={busy}
      >
        Send
      </Button>
    </form>
  );
}
