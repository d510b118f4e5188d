/** Every product with its order sizes: ready, or what is missing and where to fix it. */
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Table } from "../../ui/list/Table";
import { Mark } from "../../ui/parts";
import { bandName } from "../recipes/rows";
import { fixPath, fixWords } from "./fixing";
import { gathered } from "./gathered";

type Row = Schemas["ProductReadiness"];

interface Props {
  rows: Row[];
  at: number;
  onAt: (index: number) => void;
}

export function ReadinessTable({ rows, at, onAt }: Props) {
  return (
    <div className="bg-sheet">
      <Table
        caption="Readiness of products"
        opens
        rows={rows}
        rowKey={(row) => row.product_id}
        picked={(_, index) => index === at}
        onOver={onAt}
        columns={[
          {
            key: "product",
            name: "Product",
            className: "pl-6!",
            cell: (row) => (
              <>
                <b className="font-semibold">{row.name}</b>
                <span className="block text-small text-ink2">
                  {row.sku}
                  {row.recipe ? `, ${row.recipe}` : ""}
                </span>
              </>
            ),
          },
          {
            key: "sizes",
            name: "Order sizes",
            className: "whitespace-nowrap",
            cell: (row) => <Sizes row={row} />,
          },
          {
            key: "lacks",
            name: "What is missing or needs attention",
            cell: (row) => <Lacks row={row} />,
          },
          {
            key: "fix",
            name: "Fix",
            quiet: true,
            className: "pr-6! text-right whitespace-nowrap",
            cell: (row) => <FixLink row={row} />,
          },
        ]}
      />
    </div>
  );
}

function Sizes({ row }: { row: Row }) {
  return row.sizes.map((size, n) =>
    size.first === 0 ? null : (
      <span key={size.first} className="mr-4 inline-block">
        <Mark kind={row.ready_sizes[n] ? "done" : "stop"} /> {bandName(size)}
        <span className="sr-only">{row.ready_sizes[n] ? " ready" : " not ready"}</span>
      </span>
    ),
  );
}

function Lacks({ row }: { row: Row }) {
  const lacks = gathered(row);
  if (lacks.length === 0) return <span className="text-ink2">nothing</span>;
  return (
    <ul>
      {lacks.slice(0, 3).map((one) => (
        <li key={one.lack.words} className="flex gap-2">
          <Mark kind={one.lack.stops ? "stop" : "mind"} />
          <span>
            {one.sizes && one.sizes !== "all sizes" ? (
              <b className="font-semibold">{one.sizes}: </b>
            ) : null}
            {one.lack.words}
          </span>
        </li>
      ))}
      {lacks.length > 3 ? (
        <li className="text-small text-ink2">and {lacks.length - 3} more to check</li>
      ) : null}
    </ul>
  );
}

function FixLink({ row }: { row: Row }) {
  const first = gathered(row)[0]?.lack.fix_at;
  if (first === undefined) return null;
  return (
    <Link className="font-semibold text-action hover:underline" to={fixPath(row, first)}>
      {fixWords(row, first)}
    </Link>
  );
}
