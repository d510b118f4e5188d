/** Making another supply out of this one and, where it takes several, of others: the cost goes with it. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { convertSupplies } from "../../api/buying";
import { useFormat } from "../../app/session";
import { numberIn, numberText } from "../../domain/numbers";
import { Choose } from "../../ui/Choose";
import { useRequestKey } from "../../ui/useRequestKey";
import { Field } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import type { Supply } from "../cupboard/supply";

interface Props {
  supply: Supply;
  all: readonly Supply[];
  onClose: () => void;
}

export function ConvertSheet({ supply, all, onClose }: Props) {
  const format = useFormat();
  const say = useToast();
  const [inputs, setInputs] = useState([{ id: supply.id, quantity: "" }]);
  const [output, setOutput] = useState<number | null>(null);
  const [made, setMade] = useState("");
  const [waste, setWaste] = useState("0");
  const [key] = useRequestKey();
  const into = all.find((one) => one.id === output);
  const convert = useMutation({
    ...convertSupplies(),
    onSuccess: (now) => {
      say(
        `${into?.name ?? "It"}: ${format.quantity(now.quantity, into?.unit ?? "pieces")} made, ${format.quantity(now.on_hand, into?.unit ?? "pieces")} on hand now.`,
      );
      onClose();
    },
  });
  const options = (chosen: number) =>
    all
      .filter((one) => one.id === chosen || !inputs.some((each) => each.id === one.id))
      .map((one) => ({ value: String(one.id), text: `${one.code} ${one.name}` }));
  const worth = inputs.reduce((sum, one) => {
    const row = all.find((each) => each.id === one.id);
    return sum + Number(row?.average_cost ?? 0) * (numberIn(one.quantity) ?? 0);
  }, 0);
  const good = (numberIn(made) ?? 0) * (1 - (numberIn(waste) ?? 0) / 100);
  return (
    <Sheet
      open
      onOpenChange={(now) => !now && onClose()}
      title={`Make something from ${supply.name}`}
      description="Cut, punched, strung, printed: what goes out carries its cost over to what comes in."
      wide
    >
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (output === null) return;
          convert.mutate({
            inputs: inputs.map((one) => {
              const row = all.find((each) => each.id === one.id);
              return {
                supply_id: one.id,
                quantity: format.toStock(one.quantity, row?.unit ?? "pieces"),
              };
            }),
            output_id: output,
            made: format.toStock(made, into?.unit ?? "pieces"),
            waste_percent: numberText(waste || "0"),
            note: "",
            request_key: key,
          });
        }}
      >
        <Inputs inputs={inputs} all={all} onChange={setInputs} />
        <Choose
          label="And from another supply"
          value=""
          options={options(-1)}
          onPick={(value) => setInputs([...inputs, { id: Number(value), quantity: "" }])}
        />
        <Choose
          label="Becomes"
          value={output === null ? "" : String(output)}
          options={options(output ?? -1)}
          onPick={(value) => setOutput(Number(value))}
        />
        <div className="flex gap-3">
          <Field
            label="Amount made"
            inputMode="decimal"
            required
            unit={format.stockUnit(into?.unit ?? "pieces")}
            value={made}
            onChange={(event) => setMade(event.target.value)}
          />
          <Field
            label="Waste"
            inputMode="decimal"
            unit="%"
            value={waste}
            onChange={(event) => setWaste(event.target.value)}
          />
        </div>
        {good > 0 && worth > 0 ? (
          <p className="text-ink2">
            {format.money(worth)} goes over: about {format.exactMoney(worth / good)} each.
          </p>
        ) : null}
        <SheetFoot
          error={convert.error}
          action="Convert"
          off={convert.isPending || output === null}
          onCancel={onClose}
        />
      </form>
    </Sheet>
  );
}

interface Input {
  id: number;
  quantity: string;
}

function Inputs({
  inputs,
  all,
  onChange,
}: {
  inputs: readonly Input[];
  all: readonly Supply[];
  onChange: (inputs: Input[]) => void;
}) {
  const format = useFormat();
  return inputs.map((one, at) => {
    const row = all.find((each) => each.id === one.id);
    return (
      <div key={one.id} className="flex items-end gap-3">
        <p className="grow pb-2.5">
          <b>{row?.code}</b> {row?.name}
          <span className="block text-small text-ink2">
            {row ? `${format.quantity(row.on_hand, row.unit)} on hand` : ""}
          </span>
        </p>
        <Field
          label="Taken"
          inputMode="decimal"
          required
          unit={format.stockUnit(row?.unit ?? "pieces")}
          value={one.quantity}
          onChange={(event) =>
            onChange(
              inputs.map((each, n) =>
                n === at ? { ...each, quantity: event.target.value } : each,
              ),
            )
          }
        />
      </div>
    );
  });
}
