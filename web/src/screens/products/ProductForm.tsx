/** One product: entered or changed. What is wrong is said at its field; nothing typed is lost. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { recipes } from "../../api/queries";
import { useFormat } from "../../app/session";
import { lengthUnit } from "../../domain/units";
import { FileButton } from "../../ui/FileButton";
import { useToast } from "../../ui/overlays";
import { Pick } from "../../ui/Pick";
import { Button, Field, ProblemNote } from "../../ui/parts";
import {
  fieldsOf,
  FLAG_WORDS,
  FLAGS,
  FRAGILITY_WORDS,
  isFaults,
  readFields,
  STAND_WORDS,
  type Faults,
  type Fields,
  type ProductFile,
} from "./fields";

type Product = Schemas["ProductOut"];
const NO_RECIPE = "none yet";

export function ProductForm({
  product,
  locked,
  onClose,
  onKept,
}: {
  product: Product | null;
  locked: boolean;
  onClose: () => void;
  onKept: (row: Product) => void;
}) {
  const format = useFormat();
  const client = useQueryClient();
  const say = useToast();
  const known = useQuery(recipes());
  const [fields, setFields] = useState<Fields>(() => fieldsOf(product, format.system));
  const [faults, setFaults] = useState<Faults>({});
  const keep = useMutation({
    mutationFn: (body: ProductFile) =>
      product
        ? answer(
            api.PUT("/api/products/{product_id}", {
              params: { path: { product_id: product.id } },
              body: { product: body },
            }),
          )
        : answer(api.POST("/api/products", { body: { product: body } })),
    onSuccess: (row) => {
      say(`${row.name} is saved. Open orders follow it.`);
      void client.invalidateQueries();
      onKept(row);
    },
  });
  const photo = useMutation({
    mutationFn: (content: string) =>
      answer(
        api.PUT("/api/products/{product_id}/photo", {
          params: { path: { product_id: product?.id ?? 0 } },
          body: { photo: content },
        }),
      ),
    onSuccess: () => {
      say("Photo saved.");
      void client.invalidateQueries({ queryKey: ["products"] });
    },
  });
  const set = (change: Partial<Fields>) => setFields({ ...fields, ...change });
  const text = (
    name: keyof Fields,
    label: string,
    more: {
      unit?: string;
      hint?: string;
      autoFocus?: boolean;
      readOnly?: boolean;
      className?: string;
    } = {},
  ) => (
    <Field
      label={label}
      value={fields[name] as string}
      fault={faults[name]}
      readOnly={locked}
      onChange={(event) => set({ [name]: event.target.value })}
      {...more}
    />
  );
  const send = () => {
    const read = readFields(fields, format.system, product);
    if (isFaults(read, fields)) {
      setFaults(read);
      return;
    }
    setFaults({});
    keep.mutate(read);
  };
  const unit = lengthUnit(format.system);
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!locked && !keep.isPending) send();
      }}
    >
      <div className="flex items-start justify-between gap-3">
        <h2 className="text-[21px] leading-tight">{product ? product.name : "A new product"}</h2>
        <button type="button" aria-label="Esc, close" className="keycap" onClick={onClose}>
          Esc
        </button>
      </div>
      <div className="grid grid-cols-[150px_1fr] gap-3">
        {text("sku", "Sku", { autoFocus: product === null, readOnly: locked || product !== null })}
        {text("name", "Name")}
      </div>
      <div className="grid grid-cols-4 gap-3">
        {text("length", "Length", { unit })}
        {text("width", "Width", { unit })}
        {text("height", "Height", { unit })}
        {text("weight", "Weight", { unit: "g" })}
      </div>
      <div className="grid grid-cols-4 gap-3">
        {text("spread", "Weight varies by", { unit: "g" })}
        {text("load", "Maximum load on top", { unit: "g" })}
        {text("cost", "Cost to you")}
        {text("shelf", "Shelf")}
      </div>
      <div className="grid grid-cols-2 gap-3">
        <Choice
          label="Orientation"
          value={fields.orientation}
          words={STAND_WORDS}
          locked={locked}
          onPick={(value) => set({ orientation: value as Fields["orientation"] })}
        />
        <Choice
          label="Fragility"
          value={fields.fragility}
          words={FRAGILITY_WORDS}
          locked={locked}
          onPick={(value) => set({ fragility: value as Fields["fragility"] })}
        />
      </div>
      <fieldset className="flex flex-wrap gap-x-5 gap-y-1">
        <legend className="text-small text-ink2">It is</legend>
        {FLAGS.map((flag) => (
          <label key={flag} className="flex min-h-8 items-center gap-2">
            <input
              type="checkbox"
              className="size-4"
              disabled={locked}
              checked={fields.flags.includes(flag)}
              onChange={() =>
                set({
                  flags: fields.flags.includes(flag)
                    ? fields.flags.filter((one) => one !== flag)
                    : [...fields.flags, flag],
                })
              }
            />
            {FLAG_WORDS[flag]}
          </label>
        ))}
      </fieldset>
      <div className="grid grid-cols-4 gap-3">
        {text("lowest", "Not colder than", { unit: "C" })}
        {text("highest", "Not warmer than", { unit: "C" })}
        {text("longest", "Longest days in transit", { unit: "days" })}
        {text("keeps", "Keeps", { unit: "days" })}
      </div>
      <div className="grid grid-cols-2 gap-3">
        {text("delicate_place", "Weak spot")}
        {text("not_with", "Not in a parcel with")}
        {text("family", "Variant of")}
        {text("contents", "A set of")}
      </div>
      <p className="text-small text-ink2">
        Maximum load on top: empty is any weight, 0 is nothing. Skus with spaces between; a set as
        PRE-BLK*2 CLO-LIN*1. A variant without size or weight takes the largest known of its family.
      </p>
      <div>
        <p className="mb-1 text-small text-ink2">Recipe</p>
        <Pick
          label="Recipe"
          value={fields.recipe || NO_RECIPE}
          options={[
            { value: NO_RECIPE, text: NO_RECIPE },
            ...(known.data?.results ?? []).map((one) => ({ value: one.code, text: one.name })),
          ]}
          onPick={(value) => {
            if (!locked) set({ recipe: value === NO_RECIPE ? "" : value });
          }}
          className="min-h-10 w-full"
        />
      </div>
      <ProblemNote error={keep.error ?? photo.error} />
      {product?.has_photo ? (
        <img
          src={`/api/products/${product.id}/photo`}
          alt={product.name}
          className="max-h-40 self-start rounded-part border border-line"
        />
      ) : null}
      <div className="sticky bottom-0 -mx-6 flex flex-wrap gap-3 border-t border-line bg-sheet px-6 py-3">
        {locked ? null : (
          <Button type="submit" kind="next" disabled={keep.isPending}>
            {product ? "Save" : "Add"}
          </Button>
        )}
        {product && !locked ? (
          <FileButton
            text={product.has_photo ? "Another photo" : "Photo"}
            accept="image/png,image/jpeg"
            onFile={(_, content) => photo.mutate(content)}
          />
        ) : null}
        {product && product.contents.length === 0 ? (
          <Link
            className="inline-flex min-h-10 items-center font-semibold text-action hover:underline"
            to={
              product.recipe_id === null
                ? `/recipes/new?product=${product.id}`
                : `/recipes/${product.recipe_id}`
            }
          >
            {product.recipe_id === null ? "Propose a recipe" : "Open its recipe"}
          </Link>
        ) : null}
      </div>
    </form>
  );
}

function Choice({
  label,
  value,
  words,
  locked,
  onPick,
}: {
  label: string;
  value: string;
  words: Record<string, string>;
  locked: boolean;
  onPick: (value: string) => void;
}) {
  return (
    <div className="min-w-0">
      <p className="mb-1 text-small text-ink2">{label}</p>
      <Pick
        label={label}
        value={value}
        options={Object.entries(words).map(([key, text]) => ({ value: key, text }))}
        onPick={(now) => {
          if (!locked) onPick(now);
        }}
        className="min-h-10 w-full min-w-0 overflow-hidden whitespace-nowrap"
      />
    </div>
  );
}
