/** The products as a list: what each is, what it lacks, which recipe packs it. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { ListBar, Pages } from "../../ui/list/ListBar";
import { Table } from "../../ui/list/Table";
import { useList } from "../../ui/list/useList";
import { Mark } from "../../ui/parts";
import { FLAG_WORDS, FLAGS } from "./fields";

type Product = Schemas["ProductOut"];

const isSet = (row: Product) => row.contents.length > 0;
const nature = (row: Product) =>
  [row.fragility, ...FLAGS.filter((flag) => row[flag]).map((flag) => FLAG_WORDS[flag])].join(", ");

const RULES = {
  text: (row: Product) =>
    `${row.name} ${row.sku} ${row.family} ${row.recipe_name ?? ""} ${row.shelf} ${nature(row)}`,
  filters: [
    {
      key: "unmeasured",
      name: "Without size or weight",
      holds: (row: Product) => !isSet(row) && (row.size === null || row.weight_mg === null),
    },
    {
      key: "unpacked",
      name: "Without a recipe",
      holds: (row: Product) => !isSet(row) && row.recipe_id === null,
    },
    { key: "sets", name: "Sets", holds: isSet },
  ],
  by: {
    product: (row: Product) => row.name,
    weight: (row: Product) => row.weight_mg ?? -1,
    nature,
    recipe: (row: Product) => row.recipe_name ?? "",
  },
};

export function ProductList({
  rows,
  picked,
  narrow,
  onPick,
}: {
  rows: Product[];
  picked: Product | undefined;
  narrow: boolean;
  onPick: (row: Product) => void;
}) {
  const list = useList(rows, RULES);
  return (
    <div className="self-start">
      <ListBar {...list.bar} searchLabel="Search products" />
      <Table
        caption="Products"
        opens
        {...list.table}
        rowKey={(row) => row.id}
        picked={(row) => row.id === picked?.id}
        columns={[
          {
            key: "product",
            name: "Product",
            sorts: true,
            className: "pl-6!",
            cell: (row) => (
              <>
                <button
                  type="button"
                  className="text-left font-semibold text-action hover:underline"
                  onClick={() => onPick(row)}
                >
                  {row.name}
                </button>{" "}
                <span className="text-small text-ink2">
                  {row.sku}
                  {row.family ? `, ${row.family}` : ""}
                </span>
              </>
            ),
          },
          {
            key: "size",
            name: "Size",
            className: "whitespace-nowrap",
            cell: (row) => <SizeOf row={row} />,
          },
          {
            key: "weight",
            name: "Weight",
            num: true,
            sorts: true,
            cell: (row) => <WeightOf row={row} />,
          },
          narrow
            ? null
            : {
                key: "nature",
                name: "Nature",
                sorts: true,
                className: "text-ink2",
                cell: nature,
              },
          narrow
            ? null
            : {
                key: "recipe",
                name: "Recipe",
                sorts: true,
                className: "pl-6! pr-6!",
                cell: (row) => <RecipeOf row={row} />,
              },
        ]}
      />
      {list.found === 0 ? <p className="px-6 py-5 text-ink2">No product is like that.</p> : null}
      <Pages page={list.page} pages={list.pages} onTurn={list.turnTo} />
    </div>
  );
}

function SizeOf({ row }: { row: Product }) {
  const format = useFormat();
  if (row.size) return format.size(row.size);
  if (isSet(row)) return "a set";
  if (row.family) return <span className="text-ink2">the largest of its family</span>;
  return (
    <>
      <Mark kind="stop" /> no size
    </>
  );
}

function WeightOf({ row }: { row: Product }) {
  const format = useFormat();
  if (row.weight_mg !== null) return format.weight(row.weight_mg);
  if (isSet(row)) return "";
  if (row.family) return <span className="text-ink2">the heaviest</span>;
  return (
    <>
      <Mark kind="stop" /> none
    </>
  );
}

function RecipeOf({ row }: { row: Product }) {
  if (row.recipe_name) return row.recipe_name;
  if (isSet(row))
    return (
      <span className="text-ink2">
        {row.contents.map((item) => `${item.quantity} ${item.sku}`).join(", ")}
      </span>
    );
  return (
    <>
      <Mark kind="mind" /> none
    </>
  );
}
