/** A first recipe proposed: each line with its reason, taken whole, in part, or not. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { crafts, products, supplies } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { Section } from "../../drawings/Section";
import { SizeSteps } from "../../drawings/SizeSteps";
import { useToast } from "../../ui/overlays";
import { Pick } from "../../ui/Pick";
import { SeekPick } from "../../ui/SeekPick";
import { Button, Empty, Mark, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { bandName } from "./rows";
import { useProposal } from "./useProposal";

const SCHOOLS: { value: "paper" | "bubble"; text: string }[] = [
  { value: "paper", text: "paper first" },
  { value: "bubble", text: "bubble first" },
];
const FITTING = "fitting";

export function NewRecipeScreen() {
  const goods = useQuery(products());
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const [choosing, setChoosing] = useState(true);
  useActions([
    { key: "escape", label: "Back to all recipes", run: () => void navigate("/recipes") },
  ]);
  if (goods.isPending) return <Waiting what="your products" />;
  if (goods.isError)
    return (
      <div className="p-6">
        <ProblemNote error={goods.error} />
      </div>
    );
  const fit = goods.data.results.filter((one) => one.contents.length === 0);
  const product = fit.find((one) => String(one.id) === params.get("product"));
  if (fit.length === 0)
    return (
      <Empty title="No product yet">
        <p>Enter a product with its size and weight first.</p>
        <p className="mt-3">
          <Button kind="next" onClick={() => void navigate("/products?new=1")}>
            New product
          </Button>
        </p>
      </Empty>
    );
  if (product) return <Proposed key={product.id} product={product} />;
  return (
    <>
      <ScreenHead title="Which product is it for?" under="Those without a recipe stand first" />
      <div className="min-h-96 max-w-xl px-6">
        {choosing ? (
          <SeekPick
            label="Product"
            value=""
            placeholder="Part of its name or sku"
            onClose={() => setChoosing(false)}
            onPick={(id) => setParams({ product: id })}
            options={[...fit]
              .sort((a, b) => Number(a.recipe_id !== null) - Number(b.recipe_id !== null))
              .map((one) => ({
                value: String(one.id),
                text: `${one.name}, ${one.sku}${one.recipe_name ? `, has ${one.recipe_name}` : ""}`,
              }))}
          />
        ) : (
          <Button onClick={() => setChoosing(true)}>Choose a product</Button>
        )}
      </div>
    </>
  );
}

function Proposed({ product }: { product: Schemas["ProductOut"] }) {
  const format = useFormat();
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useToast();
  const known = useQuery(crafts());
  const shelf = useQuery(supplies());
  const [craft, setCraft] = useState(FITTING);
  const [materials, setMaterials] = useState<"paper" | "bubble">("paper");
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
    mutationFn: () =>
      answer(
        api.POST("/api/recipes", {
          body: {
            document: data?.document,
            reason: `Proposed as ${data?.craft ?? ""}, ${materials} first${without.length > 0 ? `, without ${without.join(", ")}` : ""}`,
            product_ids: [product.id],
          },
        }),
      ),
    onSuccess: (made) => {
      say(`${product.name} has a recipe now: version 1.`);
      void client.invalidateQueries();
      void navigate(`/recipes/${made.id}`);
    },
  });
  const lines = data?.lines ?? [];
  const turn = (line: Schemas["Line"] | undefined) => {
    if (line?.claim)
      setClaims(
        claims.includes(line.part)
          ? claims.filter((one) => one !== line.part)
          : [...claims, line.part],
      );
    else if (line?.may_go)
      setWithout(
        without.includes(line.part)
          ? without.filter((one) => one !== line.part)
          : [...without, line.part],
      );
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
      run: () => keep.mutate(),
      off: !data?.document || !found.ready || keep.isPending,
    },
    { key: "s", label: "Stop: keep the sizes so far", run: found.stop, off: !found.working },
  ]);
  const nameOfCraft = known.data?.crafts.find((one) => one.key === data?.craft)?.name ?? "";
  const figure = data?.figures.find((one) => one.candidate !== null);
  const nameOf = (code: string) =>
    shelf.data?.results.find((one) => one.code === code)?.name ?? code;
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
        <Pick
          label="Craft"
          value={craft}
          options={[
            { value: FITTING, text: "Automatic" },
            ...(known.data?.crafts ?? []).map((one) => ({ value: one.key, text: one.name })),
          ]}
          onPick={(value) => {
            setCraft(value);
            setWithout([]);
            setClaims([]);
          }}
          className="min-h-10"
        />
        <Pick
          label="Materials"
          value={materials}
          options={SCHOOLS}
          onPick={(value) => setMaterials(value as "paper")}
          className="min-h-10"
        />
        <Button
          kind="next"
          hotkey="K"
          disabled={!data?.document || !found.ready || keep.isPending}
          onClick={() => keep.mutate()}
        >
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
            <ul aria-label="Lines of the proposal">
              {lines.map((line, index) => {
                const out = line.claim ? !claims.includes(line.part) : without.includes(line.part);
                return (
                  <li
                    key={line.part}
                    className={`flex items-start gap-3 border-b border-line px-2 py-1.5 ${index === at ? "bg-soft" : ""}`}
                    onMouseEnter={() => setAt(index)}
                  >
                    {line.may_go ? (
                      <input
                        type="checkbox"
                        className="mt-1 size-4"
                        checked={!out}
                        aria-label={`${line.words}: take it`}
                        onChange={() => turn(line)}
                      />
                    ) : (
                      <span className="w-4" aria-hidden="true" />
                    )}
                    <span
                      className={out ? (line.claim ? "text-ink2" : "text-ink2 line-through") : ""}
                    >
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
            <p className="mt-2 text-small text-ink2">
              <span className="keycap">X</span> leaves a line out. Everything can be changed after
              it is saved.
            </p>
          </div>
          <aside
            className="border-l border-line px-6 py-3 max-lg:border-l-0 max-lg:border-t"
            aria-label="Cost"
          >
            <h2 className="text-[15px] text-ink2">
              {data.sizes.length === 0
                ? "No container takes even one"
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
        </div>
      ) : null}
    </>
  );
}
