/** Parcels packed ahead: what is packed ahead and where; pack more, take one apart. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answer, api } from "../../api/client";
import { products, readyParcels } from "../../api/queries";
import { dayWords } from "../../domain/words";
import { Sheet, useToast } from "../../ui/overlays";
import { Pick } from "../../ui/Pick";
import { Button, Field, ProblemNote, Waiting } from "../../ui/parts";

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
  const client = useQueryClient();
  const say = useToast();
  const unpack = useMutation({
    mutationFn: (id: number) =>
      answer(
        api.POST("/api/ready-parcels/{ready_id}/unpack", {
          params: { path: { ready_id: id } },
          body: { reason: "taken apart at the bench" },
        }),
      ),
    onSuccess: (row) => {
      say(`${row.units} ${row.name}: taken apart, the supplies are back on the shelf.`);
      void client.invalidateQueries();
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
        <table className="rule-table mt-5">
          <caption className="sr-only">Parcels packed ahead</caption>
          <thead>
            <tr>
              <th scope="col">Goods</th>
              <th scope="col">In</th>
              <th scope="col">Place</th>
              <th scope="col">Packed</th>
              <th scope="col">
                <span className="sr-only">Take apart</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id}>
                <td>
                  {row.units} {row.name}
                </td>
                <td>{row.container}</td>
                <td className="font-semibold">{row.place}</td>
                <td className="whitespace-nowrap text-ink2">
                  {dayWords(row.packed_at)}, {row.packed_by}
                </td>
                <td className="text-right">
                  <button
                    type="button"
                    className="text-action underline"
                    disabled={unpack.isPending}
                    onClick={() => unpack.mutate(row.id)}
                  >
                    Take apart
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

function PackAhead() {
  const goods = useQuery(products());
  const client = useQueryClient();
  const say = useToast();
  const key = useRef(crypto.randomUUID());
  const [product, setProduct] = useState("");
  const [units, setUnits] = useState("1");
  const [count, setCount] = useState("1");
  const [place, setPlace] = useState("");
  const options = (goods.data?.results ?? [])
    .filter((one) => one.recipe_id !== null)
    .map((one) => ({ value: String(one.id), text: one.name }));
  const pack = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/ready-parcels", {
          body: {
            product_id: Number(product),
            units: Number(units),
            count: Number(count),
            place,
            request_key: key.current,
          },
        }),
      ),
    onSuccess: (made) => {
      key.current = crypto.randomUUID();
      say(
        `${made.parcels.length} ${made.parcels.length === 1 ? "parcel stands" : "parcels stand"} ready at ${place}; the supplies are drawn down.`,
      );
      void client.invalidateQueries();
    },
  });
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (product !== "" && !pack.isPending) pack.mutate();
      }}
    >
      <h3 className="text-[15px] text-ink2">Pack more ahead</h3>
      <div>
        <p className="mb-1 text-small text-ink2">Product</p>
        <Pick
          label="Product"
          value={product}
          options={options}
          onPick={setProduct}
          className="min-h-10 w-full"
        />
      </div>
      <div className="grid grid-cols-3 gap-3">
        <Field
          label="Units in each"
          inputMode="numeric"
          required
          pattern="[0-9]{1,3}"
          value={units}
          onChange={(event) => setUnits(event.target.value)}
        />
        <Field
          label="How many parcels"
          inputMode="numeric"
          required
          pattern="[0-9]{1,3}"
          value={count}
          onChange={(event) => setCount(event.target.value)}
        />
        <Field
          label="Place"
          required
          maxLength={20}
          value={place}
          onChange={(event) => setPlace(event.target.value)}
        />
      </div>
      <ProblemNote error={pack.error} />
      <div>
        <Button type="submit" kind="next" disabled={product === "" || pack.isPending}>
          Packed: draw the supplies down
        </Button>
      </div>
    </form>
  );
}
