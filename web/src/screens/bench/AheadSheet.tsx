/** Parcels packed ahead: what is packed ahead and where; pack more, take one apart. */
import { useMutation, useQuery } from "@tanstack/react-query";

import { z } from "zod";
import { packAhead, unpackReady, readyParcels } from "../../api/bench";
import { products } from "../../api/recipes";
import { dayWords, many } from "../../domain/words";
import { required, useZodForm } from "../../ui/form";
import { FormField, FormPick } from "../../ui/FormField";
import { Table } from "../../ui/list/Table";
import { Sheet } from "../../ui/Sheet";
import { useToast } from "../../ui/useToast";
import { Button, ProblemNote, Waiting } from "../../ui/parts";
import { useRequestKey } from "../../ui/useRequestKey";

export function AheadSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Sheet
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title="Packed ahead"
      description="Closed parcels that wait on a shelf: an order of the same product, number and container takes the oldest."
      wide
    >
      {open ? <Ahead /> : null}
    </Sheet>
  );
}

function Ahead() {
  const list = useQuery(readyParcels());
  const say = useToast();
  const unpack = useMutation({
    ...unpackReady(),
    onSuccess: (row) => {
      say(`${row.units} ${row.name}: taken apart, the supplies are back on the shelf.`);
    },
  });
  if (list.isPending) return <Waiting what="what is packed ahead" />;
  if (list.isError) return <ProblemNote error={list.error} />;
  const rows = list.data.results;
  return (
    <>
      <PackAhead />
      <ProblemNote error={unpack.error} />
      {rows.length === 0 ? (
        <p className="mt-5 text-ink2">Nothing is packed ahead.</p>
      ) : (
        <Table
          className="mt-5"
          caption="Parcels packed ahead"
          rows={rows}
          rowKey={(row) => row.id}
          columns={[
            { key: "goods", name: "Goods", cell: (row) => `${row.units} ${row.name}` },
            { key: "container", name: "Container", cell: (row) => row.container },
            { key: "place", name: "Place", className: "font-semibold", cell: (row) => row.place },
            {
              key: "packed",
              name: "Packed",
              className: "whitespace-nowrap text-ink2",
              cell: (row) => `${dayWords(row.packed_at)}, ${row.packed_by}`,
            },
            {
              key: "apart",
              name: "Take apart",
              quiet: true,
              className: "text-right",
              cell: (row) => (
                <button
                  type="button"
                  className="text-action underline"
                  disabled={unpack.isPending}
                  onClick={() => unpack.mutate(row.id)}
                >
                  Take apart
                </button>
              ),
            },
          ]}
        />
      )}
    </>
  );
}

const AHEAD = z.object({
  product: required("Choose a product."),
  units: z.string().regex(/^[1-9][0-9]{0,2}$/, "A whole number from 1 to 999."),
  count: z.string().regex(/^[1-9][0-9]{0,2}$/, "A whole number from 1 to 999."),
  place: required("Where do they stand?").max(20),
});

function PackAhead() {
  const goods = useQuery(products());
  const say = useToast();
  const [key, renewKey] = useRequestKey();
  const options = (goods.data?.results ?? [])
    .filter((one) => one.recipe_id !== null)
    .map((one) => ({ value: String(one.id), text: one.name }));
  const pack = useMutation({
    ...packAhead(),
    onSuccess: (made, sent) => {
      renewKey();
      say(
        `${many(made.parcels.length, "parcel")} packed ahead at ${sent.place}; the supplies are used.`,
      );
    },
  });
  const form = useZodForm(
    AHEAD,
    { product: "", units: "1", count: "1", place: "" },
    { error: pack.error },
  );
  const send = form.handleSubmit(({ product, units, count, place }) => {
    if (pack.isPending) return;
    pack.mutate({
      product_id: Number(product),
      units: Number(units),
      count: Number(count),
      place,
      request_key: key,
    });
  });
  return (
    <form className="flex flex-col gap-3" noValidate onSubmit={(event) => void send(event)}>
      <h3 className="text-[15px] text-ink2">Pack more ahead</h3>
      <FormPick form={form} name="product" label="Product" options={options} />
      <div className="grid grid-cols-3 gap-3">
        <FormField form={form} name="units" label="Units in each" inputMode="numeric" />
        <FormField form={form} name="count" label="How many parcels" inputMode="numeric" />
        <FormField form={form} name="place" label="Place" maxLength={20} />
      </div>
      <ProblemNote error={pack.error} />
      <div>
        <Button type="submit" kind="next" disabled={pack.isPending}>
          Packed: draw the supplies down
        </Button>
      </div>
    </form>
  );
}
