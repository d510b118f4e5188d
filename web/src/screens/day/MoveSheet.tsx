/** Moving a parcel: every hand-over it could go with, what that costs and does, before it is done. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useFormat } from "../../app/session";
import type { Schemas } from "../../api/client";
import { moveOrder, dayMoves } from "../../api/leaving";
import { timeOfDay } from "../../domain/day";
import { dayWords, many } from "../../domain/words";
import { Button, Mark, ProblemNote, Waiting } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { useToast } from "../../ui/useToast";

type Move = Schemas["MoveOut"];

interface Props {
  orderId: number;
  number: string;
  /** Key of the hand-over it was dropped on; "" when it was opened by key. */
  wanted: string;
  onClose: () => void;
}

export function MoveSheet({ orderId, number, wanted, onClose }: Props) {
  const moves = useQuery(dayMoves(orderId));
  const say = useToast();
  const move = useMutation({
    ...moveOrder(orderId),
    onSuccess: () => {
      say(`${number} was moved and planned again.`);
      onClose();
    },
  });
  const rows = (moves.data?.moves ?? []).filter(
    (one) => wanted === "" || one.hand_over.key === wanted,
  );
  return (
    <Sheet open onOpenChange={(open) => !open && onClose()} title={`Move ${number}`} wide>
      {moves.isPending ? <Waiting what="what each way costs" /> : null}
      <ProblemNote error={moves.error ?? move.error} />
      {moves.data && rows.length === 0 ? (
        <p className="text-ink2">
          {wanted
            ? "No service of that carrier takes this parcel then. Close this and press M to see every way."
            : "No other hand-over takes this parcel in the next days."}
        </p>
      ) : null}
      {rows.length > 0 ? (
        <table className="rule-table">
          <caption className="sr-only">Hand-overs {number} could go with</caption>
          <thead>
            <tr>
              <th>Hand-over</th>
              <th>By</th>
              <th className="num">Postage</th>
              <th>Arrives</th>
              <th>What it does</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {rows.map((one) => (
              <Row
                key={`${one.hand_over.key} ${one.service}`}
                move={one}
                number={number}
                busy={move.isPending}
                onMove={() => move.mutate({ hand_over: one.hand_over.key, service: one.service })}
              />
            ))}
          </tbody>
        </table>
      ) : null}
    </Sheet>
  );
}

function Row({
  move,
  number,
  busy,
  onMove,
}: {
  move: Move;
  number: string;
  busy: boolean;
  onMove: () => void;
}) {
  const format = useFormat();
  const time = timeOfDay(move.hand_over.at_s);
  const days = Math.floor(move.hand_over.at_s / 86_400);
  const others = move.late.filter((one) => one !== number);
  const later =
    move.days_later === 0
      ? "the same day"
      : `${many(Math.abs(move.days_later), "day")} ${move.days_later > 0 ? "later" : "earlier"}`;
  return (
    <tr>
      <td>
        <b>
          {days === 0 ? "Today" : days === 1 ? "Tomorrow" : dayWords(move.hand_over.day)} {time}
        </b>
        <br />
        <span className="text-small text-ink2">{move.hand_over.name}</span>
      </td>
      <td>
        {move.service_name}
        <br />
        <span className="text-small text-ink2">{move.carrier_name}</span>
      </td>
      <td className="num">{Number(move.more) === 0 ? "no change" : format.signed(move.more)}</td>
      <td>
        {dayWords(move.arrives_on)}
        <br />
        <span className="text-small text-ink2">{move.now ? "as planned" : later}</span>
      </td>
      <td>
        {!move.makes_it ? (
          <span className="text-stop">
            <Mark kind="stop" /> it would be late
          </span>
        ) : others.length > 0 ? (
          <span className="text-mind">
            <Mark kind="mind" /> {others.slice(0, 4).join(", ")} would be late
          </span>
        ) : (
          <span>all in time</span>
        )}
      </td>
      <td className="text-right">
        {move.now ? (
          <span className="text-ink2">now</span>
        ) : (
          <Button disabled={busy} onClick={onMove}>
            Move
          </Button>
        )}
      </td>
    </tr>
  );
}
