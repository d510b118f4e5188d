/** Parcels one after the other; the one in hand with its answers. */
import { Mark } from "../../ui/parts";
import { dayWords, many } from "../../domain/words";
import { OUTCOME_WORDS, placeWords } from "../../domain/arriving";
import { goodsWords, type Arrival } from "./shown";
import type { useAnswers } from "./useAnswers";

interface Props {
  rows: readonly Arrival[];
  answers: ReturnType<typeof useAnswers>;
  label: string;
}

const ANSWERS = [
  { key: "W", text: "Whole", outcome: "whole" },
  { key: "B", text: "Broken or marked", outcome: null },
  { key: "T", text: "Late", outcome: "late" },
  { key: "L", text: "Lost", outcome: "lost" },
] as const;

export function AskList({ rows, answers, label }: Props) {
  return (
    <ul aria-label={label}>
      {rows.map((row, index) => {
        const here = index === answers.at;
        return (
          <li
            key={row.id}
            className={`border-t border-line px-3 ${here ? "-mx-0 bg-soft" : ""}`}
            aria-current={here || undefined}
          >
            <button
              type="button"
              className="flex min-h-9 w-full items-center gap-3 text-left"
              onClick={() => answers.pick(index)}
            >
              <b className="w-14 shrink-0">
                {row.number}
                {row.parts > 1 ? `/${row.part}` : ""}
              </b>
              <span className="min-w-0 grow truncate">
                {row.buyer}, {row.place}
                <span className="text-ink2">, {goodsWords(row)}</span>
              </span>
              <Standing row={row} />
            </button>
            {here ? (
              <div className="flex flex-wrap gap-x-4 pb-1 pl-[4.25rem]">
                {ANSWERS.map((one) => (
                  <button
                    key={one.key}
                    type="button"
                    disabled={answers.busy}
                    className="inline-flex min-h-9 items-center gap-2 font-semibold text-action max-lg:min-h-11"
                    onClick={() =>
                      one.outcome === null ? answers.tell(row) : answers.quick(row, one.outcome)
                    }
                  >
                    <span className="keycap" aria-hidden="true">
                      {one.key}
                    </span>
                    {one.text}
                  </button>
                ))}
              </div>
            ) : null}
          </li>
        );
      })}
    </ul>
  );
}

/** When it came and from when on it counts as whole, or by how much it is overdue. */
function Standing({ row }: { row: Arrival }) {
  if (row.delivered_on === null)
    return (
      <span className="shrink-0 whitespace-nowrap text-right text-mind">
        <Mark kind="mind" /> {many(row.late_days, "day")} overdue
      </span>
    );
  return (
    <span className="flex shrink-0 gap-4 whitespace-nowrap text-right">
      <span className="text-ink2">
        came {dayWords(row.delivered_on)}
        {row.late_days > 0 ? `, ${many(row.late_days, "day")} late` : ""}
      </span>
      <span className="w-20">{row.whole_by ? dayWords(row.whole_by) : ""}</span>
    </span>
  );
}

/** What somebody said of a parcel, in two lines. */
export function ToldRow({ row, onOpen }: { row: Arrival; onOpen: () => void }) {
  const damaged = row.outcome === "broken" || row.outcome === "spoiled";
  return (
    <li className="border-t border-line">
      <button type="button" className="w-full px-3 py-1.5 text-left hover:bg-soft" onClick={onOpen}>
        <span className="flex items-baseline gap-3">
          <b className="w-14 shrink-0">
            {row.number}
            {row.parts > 1 ? `/${row.part}` : ""}
          </b>
          <span className="min-w-0 truncate">
            {row.buyer}, {row.place}
            <span className="text-ink2">, {goodsWords(row)}</span>
          </span>
          <b className="grow whitespace-nowrap">
            {damaged ? <Mark kind="stop" /> : null} {OUTCOME_WORDS[row.outcome]}
          </b>
          <span className="shrink-0 text-ink2">
            {row.delivered_on ? `came ${dayWords(row.delivered_on)}` : ""}
          </span>
        </span>
        <More row={row} />
      </button>
    </li>
  );
}

const GAVE_WORDS = {
  "": "",
  refund: "refunded",
  part_refund: "refunded in part",
  replacement: "replaced",
} as const;

function More({ row }: { row: Arrival }) {
  const places = row.harms.map((harm) => placeWords(harm.place, harm.spot));
  const words = [
    ...(row.outcome === "broken" || row.outcome === "marked" ? places : []),
    GAVE_WORDS[row.gave_back],
    row.note,
  ].filter(Boolean);
  const claim = row.claim;
  if (words.length === 0 && claim?.state !== "open") return null;
  return (
    <span className="block pl-[4.25rem] text-small">
      {words.join("; ")}
      {claim?.state === "open" ? (
        <span className="text-mind">
          {" "}
          <Mark kind="mind" /> Claim
          {claim.until ? ` until ${dayWords(claim.until)}` : ""}
          {claim.missing.length > 0 ? `, missing: ${claim.missing.join(", ")}` : ""}
        </span>
      ) : null}
    </span>
  );
}
