/** Readiness: every product by order size, ready or what is missing, with the way to fix it. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { readiness } from "../../api/recipes";
import { useActions } from "../../app/keys";
import { Pages } from "../../ui/list/ListBar";
import { Button, Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { DeskTabs } from "../recipes/DeskTabs";
import { gathered } from "./gathered";
import { fixPath } from "./fixing";
import { ReadinessTable } from "./ReadinessTable";

export function ReadinessScreen() {
  const [page, setPage] = useState(1);
  const [onlyLacking, setOnlyLacking] = useState(false);
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const list = useQuery(readiness(page));
  const all = list.data?.results ?? [];
  const rows = [...all]
    .sort((a, b) => Number(a.ready) - Number(b.ready))
    .filter((row) => !onlyLacking || !row.ready);
  useActions([
    {
      key: "arrowdown",
      label: "Next product",
      run: () => setAt((n) => Math.min(n + 1, rows.length - 1)),
    },
    { key: "arrowup", label: "Product before", run: () => setAt((n) => Math.max(n - 1, 0)) },
    {
      key: "enter",
      label: "Fix what is missing",
      run: () => {
        const row = rows[at];
        const first = row ? gathered(row)[0] : undefined;
        if (row) void navigate(fixPath(row, first?.lack.fix_at ?? "recipe"));
      },
    },
    {
      key: "o",
      label: onlyLacking ? "Show all" : "Only what is not ready",
      run: () => {
        setAt(0);
        setOnlyLacking(!onlyLacking);
      },
    },
  ]);
  if (list.isPending)
    return <Waiting what="what is ready: every product is packed in every order size" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const missing = all.filter((row) => !row.ready).length;
  return (
    <>
      <DeskTabs />
      <ScreenHead
        title={
          all.length === 0
            ? "No product yet"
            : missing === 0
              ? "Everything can be packed"
              : `${missing} of ${all.length} products ${missing === 1 ? "is" : "are"} not ready`
        }
        under="Computed for a parcel of each order size to your usual destinations, and for today’s stock"
      >
        <Button hotkey="O" onClick={() => setOnlyLacking(!onlyLacking)}>
          {onlyLacking ? "Show all" : "Only not ready"}
        </Button>
      </ScreenHead>
      {rows.length === 0 ? (
        <Empty title={all.length === 0 ? "No product yet" : "Nothing is missing"}>
          <p>
            {all.length === 0
              ? "Enter your first product under Products."
              : "Every product can be packed in every order size."}
          </p>
        </Empty>
      ) : (
        <ReadinessTable rows={rows} at={at} onAt={setAt} />
      )}
      <Pages page={page} pages={list.data.pages} onTurn={setPage} />
    </>
  );
}
