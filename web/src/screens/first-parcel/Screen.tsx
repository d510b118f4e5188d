/** The first parcel: what is still needed for it, and the way to each. It goes when the first one is packed. */
import { useQuery } from "@tanstack/react-query";
import { Link, Navigate, useNavigate } from "react-router";
import { firstParcel } from "../../api/account";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { Button, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Drawing } from "./Drawing";
import {
  actionOf,
  AFTERWARDS,
  IN_THE_PARCEL,
  lackWords,
  nextOf,
  PART_WORDS,
  pathOf,
  type Part,
} from "./parts";
import { Starter } from "./Starter";

const COUNTS = ["Nothing", "One thing", "Two things", "Three things", "Four things", "Five things"];

export function FirstParcelScreen() {
  const state = useQuery(firstParcel());
  const owner = useSession().role === "owner";
  const navigate = useNavigate();
  const next = nextOf(state.data?.parts ?? []);
  useActions([
    {
      key: "enter",
      label: next ? actionOf(next) : "Next",
      run: () => next && void navigate(pathOf(next)),
      off: !next,
    },
  ]);
  if (state.isPending) return <Waiting what="your first parcel" />;
  if (state.isError)
    return (
      <div className="p-6">
        <ProblemNote error={state.error} />
      </div>
    );
  const { parts, left, packed } = state.data;
  if (packed) return <Navigate to="/orders" replace />;
  const byCode = new Map(parts.map((part) => [part.code, part]));
  const there = parts.length - left;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_340px] max-lg:grid-cols-1">
      <div className="min-w-0">
        <ScreenHead
          title={`${COUNTS[left] ?? `${left} things`} left until your first parcel`}
          under={`${there} of ${parts.length} ${there === 1 ? "is" : "are"} there. Each opens its own screen; come back here any time.`}
        >
          {next ? (
            <Button kind="next" hotkey="Enter" onClick={() => void navigate(pathOf(next))}>
              {actionOf(next)}
            </Button>
          ) : null}
        </ScreenHead>
        <div className="grid grid-cols-[minmax(240px,300px)_minmax(0,1fr)] border-t border-line bg-sheet px-6 pt-4 max-md:grid-cols-1">
          <div className="max-md:hidden">
            <Drawing parts={byCode} />
          </div>
          <ol className="relative flex flex-col justify-around pb-2 md:h-[470px]">
            {IN_THE_PARCEL.map((code) => (
              <PartRow key={code} part={byCode.get(code)} />
            ))}
          </ol>
        </div>
        <ol className="grid grid-cols-4 gap-x-6 gap-y-4 border-t border-line bg-sheet px-6 pb-6 pt-4 max-md:grid-cols-2">
          {AFTERWARDS.map((code) => (
            <PartRow key={code} part={byCode.get(code)} tall />
          ))}
        </ol>
      </div>
      <aside
        className="border-l border-line px-5 py-5 max-lg:border-l-0 max-lg:border-t"
        aria-label="The shelf to start from"
      >
        {owner ? <Starter /> : <p className="text-ink2">The owner fills the shelves.</p>}
      </aside>
    </div>
  );
}

function PartRow({ part, tall = false }: { part: Part | undefined; tall?: boolean }) {
  const words = part ? PART_WORDS[part.code] : undefined;
  if (!part || !words) return null;
  const lacks = lackWords(part);
  return (
    <li>
      <p className={`flex items-baseline gap-2 ${part.there ? "" : "text-action"}`}>
        {part.there ? (
          <Mark kind="done" />
        ) : (
          <span
            aria-hidden="true"
            className="inline-block size-4 shrink-0 translate-y-0.5 border-2 border-dashed border-ink2"
          />
        )}
        <b className={tall ? "text-[18px]" : ""}>{words.name}</b>
        <span className="sr-only">{part.there ? "there" : "not there yet"}</span>
      </p>
      <p className="pl-6 text-small text-ink2">
        {part.name ? (
          <>
            {part.name}
            {part.place ? `, ${part.place}` : ""}
            {lacks ? <b className="text-ink">, {lacks}</b> : null}
          </>
        ) : (
          words.need
        )}{" "}
        <Link className="text-action underline" to={pathOf(part)}>
          {part.there ? words.at : actionOf(part)}
        </Link>
      </p>
    </li>
  );
}
