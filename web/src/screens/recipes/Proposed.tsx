/** A first recipe proposed for a product: each line with its reason, taken whole, in part, or not. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { saveRecipe, crafts } from "../../api/recipes";
import { supplies } from "../../api/cupboard";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { Section } from "../../drawings/Section";
import { SizeSteps } from "../../drawings/SizeSteps";
import { useToast } from "../../ui/useToast";
import { Pick } from "../../ui/Pick";
import { Button, Mark, Notice, ProblemNote, ScreenHead } from "../../ui/parts";
import { bandName } from "./rows";
import { useProposal } from "./useProposal";

type Line = Schemas["Line"];
type Proposal = NonNullable<ReturnType<typeof useProposal>["data"]>;
type Materials = "paper" | "bubble";

const SCHOOLS: { value: Materials; text: string }[] = [
  { value: "paper", text: "paper first" },
  { value: "bubble", text: "bubble first" },
];
const FITTING = "fitting";

const toggled = (list: readonly string[], one: string): string[] =>
  list.includes(one) ? list.filter((other) => other !== one) : [...list, one];

export function Proposed({ product }: { product: Schemas["ProductOut"] }) {
  const navigate = useNavigate();
  const say = useToast();
  const known = useQuery(crafts());
  const [craft, setCraft] = useState(FITTING);
  const [materials, setMaterials] = useState<Materials>("paper");
  const [without, setWithout] = useState<string[]>([]);
  const [claims, setClaims] = useState<string[]>([]);
  const [at, setAt] = useState(0);
  const asked = {
    product_id: product.id,
    craft: craft === FITTING ? null : craft,
    materials,
    without,
    claims,
  };
  const found = useProposal(asked);
  const data = found.data;
  const keep = useMutation({
    ...saveRecipe(),
    onSuccess: (made) => {
      say(`${product.name} has a recipe now: version 1.`);
      void navigate(`/recipes/${made.id}`);
    },
  });
  const ready = Boolean(data?.document) && found.ready && !keep.isPending;
  const save = () =>
    keep.mutate({
      document: data?.document,
      reason: `Proposed as ${data?.craft ?? ""}, ${materials} first${without.length > 0 ? `, without ${without.join(", ")}` : ""}`,
      product_ids: [product.id],
    });
  const lines = data?.lines ?? [];
  const isOut = (line: Line) =>
    line.claim ? !claims.includes(line.part) : without.includes(line.part);
  const turn = (line: Line | undefined) => {
    if (line?.claim) setClaims(toggled(claims, line.part));
    else if (line?.may_go) setWithout(toggled(without, line.part));
  };
  useActions([
    {
      key: "arrowdown",
      label: "Next line",
      run: () => setAt((n) => Math.min(n + 1, lines.length - 1)),
    },
    { key: "arrowup", label: "Line before", run: () => setAt((n) => Math.max(n - 1, 0)) },
    { key: "x", label: "Leave the line out, or put it in", run: () => turn(lines[at]) },
    {
      key: "m",
      label: "Paper or bubble first",
      run: () => setMaterials(materials === "paper" ? "bubble" : "paper"),
    },
    {
      key: "k",
      label: "Save as version 1",
      run: save,
      off: !ready,
    },
    { key: "s", label: "Stop: keep the sizes so far", run: found.stop, off: !found.working },
  ]);
  const nameOfCraft = known.data?.crafts.find((one) => one.key === data?.craft)?.name ?? "";
  return (
    <>
      <ScreenHead
        title={`A first recipe for ${product.name}`}
        under={
          data
            ? `${nameOfCraft}: ${data.craft_about} Why: ${data.craft_why.join(", ")}.`
            : "Worked out from its size, weight and nature"
        }
      >
        <CraftPicks
          craft={craft}
          onCraft={(value) => {
            setCraft(value);
            setWithout([]);
            setClaims([]);
          }}
          materials={materials}
          onMaterials={setMaterials}
        />
        <Button kind="next" hotkey="K" disabled={!ready} onClick={save}>
          Save as version 1
        </Button>
      </ScreenHead>
      <div className="px-6">
        <ProblemNote error={found.error ?? keep.error} />
      </div>
      {found.working ? (
        <Notice
          kind="mind"
          action={
            <Button hotkey="S" onClick={found.stop} disabled={!data || !found.working}>
              Stop
            </Button>
          }
        >
          Working: {data?.sizes.length ?? 0} of {data?.most ?? 24} order sizes, each tried in every
          container. Stop keeps the sizes so far.
        </Notice>
      ) : null}
      {data ? (
        <div className="grid grid-cols-[minmax(0,1fr)_440px] border-t border-line bg-sheet max-lg:grid-cols-1">
          <div className="min-w-0 px-6 py-3">
            <Lines data={data} at={at} onAt={setAt} isOut={isOut} onTurn={turn} />
            <p className="mt-2 text-small text-ink2">
              <span className="keycap">X</span> leaves a line out. Everything can be changed after
              it is saved.
            </p>
          </div>
          <Cost data={data} />
        </div>
      ) : null}
    </>
  );
}

function CraftPicks({
  craft,
  onCraft,
  materials,
  onMaterials,
}: {
  craft: string;
  onCraft: (key: string) => void;
  materials: Materials;
  onMaterials: (one: Materials) => void;
}) {
  const known = useQuery(crafts());
  return (
    <>
      <Pick
        label="Craft"
        value={craft}
        options={[
          { value: FITTING, text: "Automatic" },
          ...(known.data?.crafts ?? []).map((one) => ({ value: one.key, text: one.name })),
        ]}
        onPick={onCraft}
        className="min-h-10"
      />
      <Pick
        label="Materials"
        value={materials}
        options={SCHOOLS}
        onPick={(value) => onMaterials(value === "bubble" ? "bubble" : "paper")}
        className="min-h-10"
      />
    </>
  );
}

function Lines({
  data,
  at,
  onAt,
  isOut,
  onTurn,
}: {
  data: Proposal;
  at: number;
  onAt: (index: number) => void;
  isOut: (line: Line) => boolean;
  onTurn: (line: Line) => void;
}) {
  return (
    <ul aria-label="Lines of the proposal">
      {data.lines.map((line, index) => {
        const out = isOut(line);
        return (
          <li
            key={line.part}
            className={`flex items-start gap-3 border-b border-line px-2 py-1.5 ${index === at ? "bg-soft" : ""}`}
            onMouseEnter={() => onAt(index)}
          >
            {line.may_go ? (
              <input
                type="checkbox"
                className="mt-1 size-4"
                checked={!out}
                aria-label={`${line.words}: take it`}
                onChange={() => onTurn(line)}
              />
            ) : (
              <span className="w-4" aria-hidden="true" />
            )}
            <span className={out ? `text-ink2 ${line.claim ? "" : "line-through"}` : ""}>
              <b className="font-semibold">{line.words}</b>{" "}
              <span className="text-ink2">{line.why}</span>
            </span>
          </li>
        );
      })}
      {data.lacks.map((words) => (
        <li key={words} className="flex gap-3 border-b border-line px-2 py-1.5">
          <Mark kind="mind" />
          <span>{words}</span>
        </li>
      ))}
    </ul>
  );
}

function Cost({ data }: { data: Proposal }) {
  const format = useFormat();
  const shelf = useQuery(supplies());
  const figure = data.figures.find((one) => one.candidate !== null);
  const nameOf = (code: string) =>
    shelf.data?.results.find((one) => one.code === code)?.name ?? code;
  return (
    <aside
      className="border-l border-line px-6 py-3 max-lg:border-l-0 max-lg:border-t"
      aria-label="Cost"
    >
      <h2 className="text-[15px] text-ink2">
        {data.sizes.length === 0
          ? "Not even one can be packed yet"
          : `The cheapest way to send ${data.sizes.length === 1 ? "1" : `1 to ${data.sizes.length}`}`}
      </h2>
      <SizeSteps sizes={data.sizes} money={(amount) => format.money(amount)} name={nameOf} />
      {figure?.candidate ? (
        <>
          <h2 className="mt-2 text-[15px] text-ink2">Packed for {bandName(figure)}</h2>
          <Section
            parcel={figure.candidate}
            layers={figure.layers}
            caption={`${figure.candidate.name}, ${figure.gross_mg ? format.weight(figure.gross_mg) : ""}, ${figure.each_all_in ? format.money(figure.each_all_in) : ""} each, total cost`}
          />
        </>
      ) : null}
    </aside>
  );
}
