/** One product: entered or changed. What is wrong is said at its field; nothing typed is lost. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { savePhoto, saveProduct, recipes } from "../../api/recipes";
import { useFormat } from "../../app/session";
import { lengthUnit, weightFieldUnit } from "../../domain/units";
import { FileButton } from "../../ui/FileButton";
import { useZodForm } from "../../ui/form";
import { FormField, FormPick, type FormOf } from "../../ui/FormField";
import { useToast } from "../../ui/useToast";
import { Button, ProblemNote } from "../../ui/parts";
import { CopyRetire } from "./CopyRetire";
import {
  fieldAt,
  fieldsOf,
  FLAG_WORDS,
  FLAGS,
  HOLDS,
  FRAGILITY_WORDS,
  productSchema,
  STAND_WORDS,
  type Fields,
} from "./fields";

type Product = Schemas["ProductOut"];

interface Props {
  product: Product | null;
  /** A new one that begins with what this one has. */
  copyOf?: Product | undefined;
  locked: boolean;
  onClose: () => void;
  onKept: (row: Product) => void;
}

interface PartProps {
  form: FormOf<Fields>;
  locked: boolean;
}

export function ProductForm({ product, copyOf, locked, onClose, onKept }: Props) {
  const { system } = useFormat();
  const say = useToast();
  const keep = useMutation({
    ...saveProduct(product?.id ?? null),
    onSuccess: (row) => {
      say(`${row.name} is saved. Open orders follow it.`);
      onKept(row);
    },
  });
  const photo = useMutation({
    ...savePhoto(product?.id ?? 0),
    onSuccess: () => say("Photo saved."),
  });
  const like = product ?? copyOf ?? null;
  const [schema] = useState(() => productSchema(system, like));
  const begins = fieldsOf(like, system);
  const form = useZodForm(
    schema,
    copyOf ? { ...begins, sku: "", name: `${copyOf.name}, copy` } : begins,
    {
      error: keep.error,
      fieldOf: fieldAt,
    },
  );
  const send = form.handleSubmit((read) => {
    if (!locked && !keep.isPending) keep.mutate(read);
  });
  return (
    <form className="flex flex-col gap-3" noValidate onSubmit={(event) => void send(event)}>
      <div className="flex items-start justify-between gap-3">
        <h2 className="text-[21px] leading-tight">{product ? product.name : "A new product"}</h2>
        <button type="button" aria-label="Esc, close" className="keycap" onClick={onClose}>
          Esc
        </button>
      </div>
      <Measures form={form} locked={locked} known={product !== null} />
      <Nature form={form} locked={locked} />
      <RecipePick form={form} locked={locked} />
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
        {product && product.contents.length === 0 ? <ToRecipe product={product} /> : null}
        {product && !locked ? <CopyRetire product={product} onGone={onClose} /> : null}
      </div>
    </form>
  );
}

function Measures({ form, locked, known }: PartProps & { known: boolean }) {
  const { system } = useFormat();
  const side = { form, readOnly: locked, unit: lengthUnit(system) };
  const weight = { form, readOnly: locked, unit: weightFieldUnit(system) };
  return (
    <>
      <div className="grid grid-cols-[150px_1fr] gap-3">
        <FormField
          form={form}
          name="sku"
          label="Sku"
          autoFocus={!known}
          readOnly={locked || known}
        />
        <FormField form={form} name="name" label="Name" readOnly={locked} />
      </div>
      <div className="grid grid-cols-4 items-end gap-3">
        <FormField {...side} name="length" label="Length" />
        <FormField {...side} name="width" label="Width" />
        <FormField {...side} name="height" label="Height" />
        <FormField {...weight} name="weight" label="Weight" />
      </div>
      <div className="grid grid-cols-4 items-end gap-3">
        <FormField {...weight} name="spread" label="Weight varies by" />
        <FormField {...weight} name="load" label="Maximum load on top" />
        <FormField form={form} name="cost" label="Cost to you" readOnly={locked} />
        <FormField form={form} name="shelf" label="Shelf" readOnly={locked} />
      </div>
    </>
  );
}

const picks = (words: Record<string, string>) =>
  Object.entries(words).map(([value, text]) => ({ value, text }));

function Nature({ form, locked }: PartProps) {
  const plain = { form, readOnly: locked };
  return (
    <>
      <div className="grid grid-cols-2 gap-3">
        <FormPick
          form={form}
          name="orientation"
          label="Orientation"
          options={picks(STAND_WORDS)}
          locked={locked}
        />
        <FormPick
          form={form}
          name="fragility"
          label="Fragility"
          options={picks(FRAGILITY_WORDS)}
          locked={locked}
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
              value={flag}
              {...form.register("flags")}
            />
            {FLAG_WORDS[flag]}
          </label>
        ))}
      </fieldset>
      <fieldset className="flex flex-wrap gap-x-5 gap-y-1">
        <legend className="text-small text-ink2">It holds</legend>
        {HOLDS.map((word) => (
          <label key={word} className="flex min-h-8 items-center gap-2">
            <input
              type="checkbox"
              className="size-4"
              disabled={locked}
              value={word}
              {...form.register("holds")}
            />
            {word}
          </label>
        ))}
      </fieldset>
      <div className="grid grid-cols-4 items-end gap-3">
        <FormField {...plain} name="lowest" label="Not colder than" unit="C" />
        <FormField {...plain} name="highest" label="Not warmer than" unit="C" />
        <FormField {...plain} name="longest" label="Longest days in transit" unit="days" />
        <FormField {...plain} name="keeps" label="Keeps" unit="days" />
      </div>
      <div className="grid grid-cols-2 gap-3">
        <FormField {...plain} name="delicate_place" label="Weak spot" />
        <FormField {...plain} name="not_with" label="Not in a parcel with" />
        <FormField {...plain} name="family" label="Variant of" />
        <FormField {...plain} name="contents" label="A set of" />
      </div>
      <p className="text-small text-ink2">
        Maximum load on top: empty is any weight, 0 is nothing. Skus with spaces between; a set as
        PRE-BLK*2 CLO-LIN*1. A variant without size or weight takes the largest known of its family.
      </p>
    </>
  );
}

/** A select has no empty choice: this one stands for it. */
const NO_RECIPE = "-";

function RecipePick({ form, locked }: PartProps) {
  const known = useQuery(recipes());
  return (
    <FormPick
      form={form}
      name="recipe"
      label="Recipe"
      locked={locked}
      none={{ value: NO_RECIPE, text: "none yet" }}
      options={(known.data?.results ?? []).map((one) => ({ value: one.code, text: one.name }))}
    />
  );
}

function ToRecipe({ product }: { product: Product }) {
  return (
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
  );
}
