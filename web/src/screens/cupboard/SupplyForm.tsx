/** A supply by hand: a form for each kind, a drawing that follows it, how to measure beside each figure. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { ProblemError } from "../../api/client";
import { saveSupply, estimateCarton } from "../../api/cupboard";
import { useFormat } from "../../app/session";
import { numberText } from "../../domain/numbers";
import { readLength, stockWord, type StockUnit } from "../../domain/units";
import { SupplyShape } from "../../drawings/SupplyShape";
import { Button, Field, ProblemNote } from "../../ui/parts";
import { Pick } from "../../ui/Pick";
import { TypedField } from "../../ui/TypedField";
import { useToast } from "../../ui/useToast";
import type { Supply } from "./supply";
import {
  codeFor,
  factsOf,
  askedOf,
  KIND_WORDS,
  typedOf,
  unitOf,
  type FieldOf,
  type Item,
  type Kind,
  type Typed,
} from "./supplyFields";

interface Props {
  kind: Kind;
  /** Changed in place; or copied, when ``copy`` is set. */
  supply: Supply | null;
  copy?: boolean;
  all: readonly Supply[];
  onKind: (kind: Kind) => void;
  onClose: () => void;
  onSaved: (supply: Supply) => void;
}

interface Plain {
  name: string;
  code: string;
  place: string;
  reorder: string;
  amount: string;
  cost: string;
}

const UNITS: Partial<Record<Kind, StockUnit>> = { wrap: "m2", fill: "l", tape: "m" };
const SHELF_OF: Record<Kind, string> = {
  carton: "A",
  mailer: "A",
  unit_box: "A",
  wrap: "B",
  fill: "C",
  tape: "C",
  insert: "D",
};

export function SupplyForm({ kind, supply, copy = false, all, onKind, onClose, onSaved }: Props) {
  const format = useFormat();
  const say = useToast();
  const changed = copy ? null : supply;
  const unit = UNITS[kind] ?? "pieces";
  const [plain, setPlain] = useState<Plain>(() => plainOf(kind, supply, copy, all, format));
  const [typed, setTyped] = useState<Typed>(() => typedOf(supply, kind, format.system));
  const [tried, setTried] = useState(false);
  const estimate = useEstimate(kind, typed, format.system);
  const read = factsOf(kind, typed, supply, format.system, estimate);
  const save = useMutation({
    ...saveSupply(changed?.id ?? null),
    onSuccess: (now) => {
      say(`${now.name} is saved.`);
      onSaved(now);
    },
  });
  const code =
    plain.code ||
    codeFor(
      kind,
      typed,
      plain.name,
      all.map((one) => one.code),
    );
  const name = plain.name || (kind === "carton" ? cartonName(typed, format.system) : "");
  const place = /^([A-Z])(\d{1,2})$/i.exec(plain.place.trim());
  const faults = { ...read.faults, ...plainFaults(name, place, save.error) };
  const send = () => {
    setTried(true);
    if (Object.keys(read.faults).length > 0 || !place || !name || save.isPending) return;
    const item: Item = {
      code,
      name,
      shelf: (place[1] ?? "A").toUpperCase(),
      slot: Number(place[2]),
      reorder_at: plain.reorder.trim() ? format.toStock(plain.reorder, unit) : null,
      on_hand: changed ? "0" : format.toStock(plain.amount || "0", unit),
      unit_cost: perStock(plain.cost, unit, format),
      facts: read.facts,
      estimated: [...new Set([...(supply?.estimated ?? []), ...read.estimated])],
    };
    save.mutate(item);
  };
  const set = (now: Partial<Plain>) => setPlain((was) => ({ ...was, ...now }));
  return (
    <form
      aria-label={changed ? `Change ${changed.name}` : `New ${KIND_WORDS[kind].toLowerCase()}`}
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      <h2 className="text-[21px] leading-tight">
        {changed ? changed.name : copy ? `Copy of ${supply?.name ?? ""}` : "New supply"}
      </h2>
      {supply ? null : (
        <Pick
          label="Kind"
          value={kind}
          options={Object.entries(KIND_WORDS).map(([value, text]) => ({ value, text }))}
          onPick={(value) => onKind(value as Kind)}
          className="mt-2 w-full"
        />
      )}
      <Shape kind={kind} typed={typed} system={format.system} name={name} />
      <div className="grid grid-cols-2 gap-x-3 gap-y-2.5">
        <TypedField
          className="col-span-2"
          label="Name"
          autoFocus={!supply}
          maxLength={80}
          placeholder={name}
          values={plain}
          name="name"
          set={set}
          fault={tried ? faults.name : undefined}
        />
        <Facts
          fields={askedOf(kind, typed)}
          typed={typed}
          estimate={estimate}
          estimated={supply?.estimated ?? []}
          faults={tried ? faults : {}}
          onType={(key, value) => setTyped((now) => ({ ...now, [key]: value }))}
        />
        <Standing
          plain={plain}
          set={set}
          unit={unit}
          code={code}
          isNew={changed === null}
          faults={tried ? faults : { code: faults.code }}
        />
      </div>
      <ProblemNote error={save.error} />
      <div className="sticky bottom-0 mt-3 flex gap-2.5 bg-sheet py-3">
        <Button type="submit" kind="next" disabled={save.isPending}>
          Save
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </form>
  );
}

/** Where it stands, under which code, when to reorder; of a new one, what is there. */
function Standing({
  plain,
  set,
  unit,
  code,
  isNew,
  faults,
}: {
  plain: Plain;
  set: (now: Partial<Plain>) => void;
  unit: StockUnit;
  code: string;
  isNew: boolean;
  faults: Record<string, string | undefined>;
}) {
  const format = useFormat();
  return (
    <>
      <TypedField
        label="Place, such as A3"
        values={plain}
        name="place"
        set={set}
        fault={faults.place}
      />
      <TypedField
        label="Code"
        disabled={!isNew}
        placeholder={code}
        maxLength={30}
        values={plain}
        name="code"
        set={set}
        fault={faults.code}
      />
      <TypedField
        label="Reorder at"
        inputMode="decimal"
        unit={stockWord(unit, format.system)}
        values={plain}
        name="reorder"
        set={set}
      />
      {isNew ? (
        <>
          <TypedField
            label="On the shelf now"
            inputMode="decimal"
            unit={stockWord(unit, format.system)}
            values={plain}
            name="amount"
            set={set}
          />
          <TypedField
            label={unit === "pieces" ? "One costs" : `One ${stockWord(unit, format.system)} costs`}
            inputMode="decimal"
            values={plain}
            name="cost"
            set={set}
          />
        </>
      ) : null}
    </>
  );
}

type Format = ReturnType<typeof useFormat>;

function plainOf(
  kind: Kind,
  supply: Supply | null,
  copy: boolean,
  all: readonly Supply[],
  format: Format,
): Plain {
  const shelf = supply?.shelf ?? SHELF_OF[kind];
  const last = Math.max(0, ...all.filter((one) => one.shelf === shelf).map((one) => one.slot));
  const unit = UNITS[kind] ?? "pieces";
  return {
    name: supply ? (copy ? `${supply.name}, copy` : supply.name) : "",
    code: supply && !copy ? supply.code : "",
    place: supply && !copy ? `${supply.shelf}${supply.slot}` : `${shelf}${Math.min(99, last + 1)}`,
    reorder:
      supply?.reorder_at === null || supply === null
        ? ""
        : String(Number(format.inStock(supply.reorder_at, unit).toFixed(2))),
    amount: "",
    cost: "",
  };
}

/** What one stock unit costs, out of what one shown unit costs. */
function perStock(cost: string, unit: StockUnit, format: Format): string {
  const text = numberText(cost) || "0";
  const shown = format.inStock(1, unit);
  return shown === 1 || Number.isNaN(Number(text)) ? text : (Number(text) * shown).toFixed(6);
}

function plainFaults(
  name: string,
  place: RegExpExecArray | null,
  error: unknown,
): Record<string, string> {
  const found: Record<string, string> = {};
  if (!name) found.name = "A name.";
  if (!place) found.place = "A shelf letter and a number, such as A3.";
  if (error instanceof ProblemError && error.problem.field === "code")
    found.code = error.problem.detail;
  return found;
}

const CARTON_SIDES = ["inner.length_um", "inner.width_um", "inner.height_um"] as const;

const sidesOf = (typed: Typed, keys: readonly string[], system: Format["system"]): number[] =>
  keys.map((key) => readLength(typed[key] ?? "", system) ?? 0);

function cartonName(typed: Typed, system: Format["system"]): string {
  const sides = CARTON_SIDES.map((key) => (typed[key] ?? "").replace(/[^0-9.,/ ]/g, "").trim());
  if (!sides.every(Boolean)) return "";
  return `Carton ${sides.join(" x ")} ${system === "imperial" ? "in" : "mm"}`;
}

/** What the carton probably weighs and takes, asked while its size is typed. */
function useEstimate(kind: Kind, typed: Typed, system: Format["system"]) {
  const [length_um = 0, width_um = 0, height_um = 0] = sidesOf(typed, CARTON_SIDES, system);
  const board = (typed.board || "single") as "single" | "double" | "none";
  const known = kind === "carton" && Math.min(length_um, width_um, height_um) > 0;
  const asked = useQuery(estimateCarton(known ? { length_um, width_um, height_um, board } : null));
  return known ? (asked.data ?? null) : null;
}

function Shape({
  kind,
  typed,
  system,
  name,
}: {
  kind: Kind;
  typed: Typed;
  system: Format["system"];
  name: string;
}) {
  const keys =
    kind === "mailer"
      ? ["flat_length_um", "flat_width_um"]
      : kind === "wrap"
        ? ["sheet_um.0", "sheet_um.1"]
        : CARTON_SIDES;
  return (
    <SupplyShape
      kind={kind}
      sides={sidesOf(typed, keys, system)}
      rollWidth={readLength(typed.roll_width_um ?? "", system) ?? 0}
      double={typed.board === "double"}
      label={name || KIND_WORDS[kind]}
    />
  );
}

function Facts({
  fields,
  typed,
  estimate,
  estimated,
  faults,
  onType,
}: {
  fields: readonly FieldOf[];
  typed: Typed;
  estimate: { tare_mg: number; max_load_mg: number } | null;
  estimated: readonly string[];
  faults: Record<string, string>;
  onType: (key: string, value: string) => void;
}) {
  const format = useFormat();
  const hint = (field: FieldOf): ReactNode => {
    const guess =
      typed[field.key] === "" ? estimate?.[field.key as keyof typeof estimate] : undefined;
    if (guess !== undefined) return `Estimated ${format.weight(guess)}. ${field.how ?? ""}`;
    return estimated.includes(field.key) ? `An estimate. ${field.how ?? ""}` : field.how;
  };
  return fields.map((field) => {
    const value = typed[field.key] ?? "";
    if (field.is === "tick")
      return (
        <label key={field.key} className="flex min-h-10 items-center gap-2 self-end">
          <input
            type="checkbox"
            className="size-5 accent-action"
            checked={value === "yes"}
            onChange={(event) => onType(field.key, event.target.checked ? "yes" : "")}
          />
          {field.label}
        </label>
      );
    if (field.is === "pick")
      return (
        <div key={field.key}>
          <p className="mb-1 text-small text-ink2">{field.label}</p>
          <Pick
            label={field.label}
            value={value || "none-chosen"}
            options={field.options.map(([one, text]) => ({ value: one || "none-chosen", text }))}
            onPick={(one) => onType(field.key, one === "none-chosen" ? "" : one)}
            className="min-h-10 w-full"
          />
        </div>
      );
    const unit =
      field.is === "number"
        ? unitOf(field, format.system)
        : field.is === "length"
          ? format.imperial
            ? "in"
            : "mm"
          : format.imperial
            ? "oz"
            : "g";
    return (
      <Field
        key={field.key}
        label={field.label}
        unit={unit}
        value={value}
        onChange={(event) => onType(field.key, event.target.value)}
        hint={hint(field) as string | undefined}
        fault={faults[field.key]}
      />
    );
  });
}
