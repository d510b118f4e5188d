/** New prices as a step table: pasted or from a CSV file, upon the list that is shown. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { textOf } from "../../ui/files";
import { Sheet, useToast } from "../../ui/overlays";
import { Button, Field, ProblemNote } from "../../ui/parts";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  row: Schemas["TariffRow"];
  onTaken: (id: number, notes: string[]) => void;
}

export function StepsSheet({ open, onOpenChange, row, onTaken }: Props) {
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title={`New prices for ${row.carrier_name}`}
      description={`The tables named are replaced; everything else stays as in ${row.version}. A new list is added beside it.`}
      wide
    >
      {open ? <Form row={row} onDone={() => onOpenChange(false)} onTaken={onTaken} /> : null}
    </Sheet>
  );
}

function Form({
  row,
  onDone,
  onTaken,
}: {
  row: Props["row"];
  onDone: () => void;
  onTaken: Props["onTaken"];
}) {
  const client = useQueryClient();
  const say = useToast();
  const [content, setContent] = useState("service,format,zone,above,up_to,price\n");
  const [version, setVersion] = useState("");
  const [from, setFrom] = useState("");
  const take = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/tariffs/{tariff_id}/steps", {
          params: { path: { tariff_id: row.id } },
          body: { content, tariff_version: version, valid_from: from },
        }),
      ),
    onSuccess: (done) => {
      say(`${done.row.carrier_name} ${done.row.version} imported.`);
      void client.invalidateQueries();
      onTaken(done.row.id, done.notes);
      onDone();
    },
  });
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        take.mutate();
      }}
    >
      <div className="grid grid-cols-2 gap-4">
        <Field
          label="Name of the new version"
          required
          maxLength={30}
          value={version}
          onChange={(event) => setVersion(event.target.value)}
        />
        <Field
          label="Valid from"
          type="date"
          required
          value={from}
          onChange={(event) => setFrom(event.target.value)}
        />
      </div>
      <label className="block text-small text-ink2">
        Step table
        <textarea
          className="mt-1 block h-56 w-full rounded-part border border-line2 bg-sheet p-3 font-mono text-small text-ink"
          spellCheck={false}
          value={content}
          onChange={(event) => setContent(event.target.value)}
        />
      </label>
      <label className="text-small text-ink2">
        or from a file{" "}
        <input
          type="file"
          accept=".csv,.txt"
          className="ml-2"
          onChange={(event) => void textOf(event.target.files?.[0]).then(setContent)}
        />
      </label>
      <ProblemNote error={take.error} />
      <div className="flex gap-3">
        <Button type="submit" kind="next" disabled={take.isPending}>
          Import
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}
