/** Trying out: shake, flip, drop, throw, post; what came of it, by whom, with a photo. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useWatch } from "react-hook-form";
import { z } from "zod";
import { addTrial, trials } from "../../api/recipes";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import { fileText } from "../../ui/files";
import { Sheet } from "../../ui/Sheet";
import { useToast } from "../../ui/useToast";
import { useZodForm } from "../../ui/form";
import { FormField, FormPick } from "../../ui/FormField";
import { useRequestKey } from "../../ui/useRequestKey";
import { Button, Mark, ProblemNote, Waiting } from "../../ui/parts";
import { DROP_PLACES, TRIAL_WORDS } from "./trialWords";

export function TrialsSheet({
  open,
  onClose,
  id,
  version,
  figures,
}: {
  open: boolean;
  onClose: () => void;
  id: number;
  version: number;
  figures: readonly Schemas["BandFigures"][];
}) {
  return (
    <Sheet
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title="Tests"
      description={`Of version ${version}, the current one. It counts as tested when its last test was passed.`}
      wide
    >
      {open ? <Tests id={id} version={version} figures={figures} /> : null}
    </Sheet>
  );
}

interface OfVersion {
  id: number;
  version: number;
  figures: readonly Schemas["BandFigures"][];
}

function Tests({ id, version, figures }: OfVersion) {
  const format = useFormat();
  const list = useQuery(trials(id));
  if (list.isPending) return <Waiting what="the tests" />;
  if (list.isError) return <ProblemNote error={list.error} />;
  return (
    <div className="grid grid-cols-2 gap-6 max-md:grid-cols-1">
      <NewTrial id={id} version={version} figures={figures} />
      <div>
        <h3 className="text-[15px] text-ink2">Test log</h3>
        {list.data.results.length === 0 ? (
          <p className="mt-1">This version is not tested.</p>
        ) : null}
        <ul>
          {list.data.results.map((row) => (
            <li key={row.id} className="border-t border-line py-2">
              <b>
                <Mark kind={row.passed ? "done" : "stop"} /> {TRIAL_WORDS[row.kind]}
                {row.place ? `, ${row.place}` : ""}
                {row.drop_mm ? `, from ${format.length(row.drop_mm * 1000)}` : ""}
              </b>
              : {row.passed ? "passed" : "failed"}
              <span className="block text-small text-ink2">
                Version {row.version}, {many(row.units, "unit")}, {dayWords(row.at)}, {row.author}
                {row.version === version ? "" : ", an older version"}
              </span>
              {row.note ? <span className="block">{row.note}</span> : null}
              {row.has_photo ? (
                <a
                  className="text-action underline"
                  href={`/api/trials/${row.id}/photo`}
                  target="_blank"
                  rel="noreferrer"
                >
                  Photo
                </a>
              ) : null}
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}

const TRIAL = z.object({
  kind: z.enum(["shake", "flip", "drop", "throw", "posted"]),
  first: z.string(),
  place: z.enum(DROP_PLACES),
  note: z.string().max(400),
  photo: z.string(),
});

function NewTrial({ id, version, figures }: OfVersion) {
  const format = useFormat();
  const say = useToast();
  const [key, renewKey] = useRequestKey();
  const add = useMutation(addTrial(id));
  const form = useZodForm(
    TRIAL,
    {
      kind: "shake",
      first: String(figures[0]?.first ?? 1),
      place: DROP_PLACES[0],
      note: "",
      photo: "",
    },
    { error: add.error },
  );
  const [kind, first] = useWatch({ control: form.control, name: ["kind", "first"] });
  const figure = figures.find((one) => String(one.first) === first);
  const falls = kind === "drop" || kind === "throw";
  const send = (passed: boolean) =>
    form.handleSubmit((trial) =>
      add.mutate(
        {
          request_key: key,
          version,
          kind: trial.kind,
          units: figure?.units ?? 1,
          passed,
          place: falls ? trial.place : "",
          drop_mm: kind === "drop" && figure?.drop_um ? figure.drop_um / 1000 : null,
          note: trial.note,
          photo: trial.photo,
        },
        {
          onSuccess: (made) => {
            renewKey();
            form.setValue("note", "");
            form.setValue("photo", "");
            say(
              made.passed
                ? `Version ${made.version} passed.`
                : `Version ${made.version} failed; change the recipe and try again.`,
            );
          },
        },
      ),
    );
  return (
    <div className="flex flex-col gap-3">
      <div className="grid grid-cols-2 gap-3">
        <FormPick
          form={form}
          name="kind"
          label="What you do"
          options={Object.entries(TRIAL_WORDS).map(([value, text]) => ({ value, text }))}
        />
        <FormPick
          form={form}
          name="first"
          label="With a parcel of"
          options={figures.map((one) => ({
            value: String(one.first),
            text: many(one.units, "unit"),
          }))}
        />
      </div>
      {falls ? (
        <FormPick
          form={form}
          name="place"
          label="It falls on"
          options={DROP_PLACES.map((one) => ({ value: one, text: one }))}
        />
      ) : null}
      {kind === "drop" ? (
        <p className="text-[21px] font-semibold">
          {figure?.drop_um
            ? `Drop it from ${format.length(figure.drop_um)}`
            : "This size cannot be packed yet"}
          <span className="block text-small font-normal text-ink2">
            For its weight. This test is a planning aid, not a certificate.
          </span>
        </p>
      ) : null}
      <FormField form={form} name="note" label="What you saw" maxLength={400} />
      <label className="text-small text-ink2">
        Photo, PNG or JPEG
        <input
          type="file"
          accept="image/png,image/jpeg"
          className="mt-1 block"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) void fileText(file).then((photo) => form.setValue("photo", photo));
          }}
        />
      </label>
      <ProblemNote error={add.error} />
      <div className="flex gap-3">
        <Button kind="next" disabled={add.isPending} onClick={() => void send(true)()}>
          Passed
        </Button>
        <Button kind="stop" disabled={add.isPending} onClick={() => void send(false)()}>
          Failed
        </Button>
      </div>
    </div>
  );
}
