/** What a slot takes, and which supply takes its place once it is used up. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { setPlace } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { Choose } from "../../ui/Choose";
import { Field } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import type { Supply } from "../cupboard/supply";

interface Props {
  supply: Supply;
  page: Schemas["OutlookOut"];
  all: readonly Supply[];
  onClose: () => void;
}

export function PlaceSheet({ supply, page, all, onClose }: Props) {
  const format = useFormat();
  const takes = format.editedAmount(page.room, supply.unit);
  const [room, setRoom] = useState(takes.shown);
  const [next, setNext] = useState(page.successor_id === null ? "" : String(page.successor_id));
  const save = useMutation({ ...setPlace(), onSuccess: onClose });
  return (
    <Sheet open onOpenChange={(now) => !now && onClose()} title={`${supply.name}: its slot`}>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate({
            id: supply.id,
            body: {
              room: room.trim() ? takes.kept(room) : null,
              successor_id: next ? Number(next) : null,
            },
          });
        }}
      >
        <Field
          label="The slot takes at most"
          unit={format.stockUnit(supply.unit)}
          hint="Nothing larger is offered to buy. Empty: not known."
          inputMode="decimal"
          value={room}
          onChange={(event) => setRoom(event.target.value)}
        />
        <Choose
          label="Takes its place once it is used up"
          value={next}
          options={[
            { value: "", text: "nothing: it is bought again" },
            ...all
              .filter((one) => one.kind === supply.kind && one.id !== supply.id)
              .map((one) => ({ value: String(one.id), text: `${one.code} ${one.name}` })),
          ]}
          onPick={setNext}
        />
        <SheetFoot error={save.error} action="Save" off={save.isPending} onCancel={onClose} />
      </form>
    </Sheet>
  );
}
