/** Trying out: shake, flip, drop, throw, post; what came of it, by whom, with a photo. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { trials } from "../../api/queries";
import { useFormat } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import { fileText } from "../../ui/files";
import { Sheet, useToast } from "../../ui/overlays";
import { Pick } from "../../ui/Pick";
import { Button, Field, Mark, ProblemNote, Waiting } from "../../ui/parts";
import { DROP_PLACES, TRIAL_WORDS, type Place } from "./trialWords";

type Kind = Schemas["TrialIn"]["kind"];

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

function Tests({
  id,
  version,
  figures,
}: {
  id: number;
  version: number;
  figures: readonly Schemas["BandFigures"][];
}) {
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

function NewTrial({
  id,
  version,
  figures,
}: {
  id: number;
  version: number;
  figures: readonly Schemas["BandFigures"][];
}) {
  const client = useQueryClient();
  const format = useFormat();
  const say = useToast();
  const key = useRef(crypto.randomUUID());
  const [kind, setKind] = useState<Kind>("shake");
  const [first, setFirst] = useState(String(figures[0]?.first ?? 1));
  const [place, setPlace] = useState<Place>(DROP_PLACES[0]);
  const [note, setNote] = useState("");
  const [photo, setPhoto] = useState("");
  const figure = figures.find((one) => String(one.first) === first);
  const height = figure?.drop_um ? figure.drop_um / 1000 : null;
  const add = useMutation({
    mutationFn: (passed: boolean) =>
      answer(
        api.POST("/api/recipes/{recipe_id}/trials", {
          params: { path: { recipe_id: id } },
          body: {
            request_key: key.current,
            version,
            kind,
            units: figure?.units ?? 1,
            passed,
            place: kind === "drop" || kind === "throw" ? place : "",
            drop_mm: kind === "drop" ? height : null,
            note,
            photo,
          },
        }),
      ),
    onSuccess: (made) => {
      key.current = crypto.randomUUID();
      setNote("");
      setPhoto("");
      say(
        made.passed
          ? `Version ${made.version} passed.`
          : `Version ${made.version} failed; change the recipe and try again.`,
      );
      void client.invalidateQueries({ queryKey: ["trials", id] });
      void client.invalidateQueries({ queryKey: ["readiness"] });
      void client.invalidateQueries({ queryKey: ["recipes"] });
    },
  });
  return (
    <div className="flex flex-col gap-3">
      <div className="grid grid-cols-2 gap-3">
        <div>
          <p className="mb-1 text-small text-ink2">What you do</p>
          <Pick
            label="What you do"
            value={kind}
            options={Object.entries(TRIAL_WORDS).map(([value, text]) => ({ value, text }))}
            onPick={(value) => setKind(value as Kind)}
            className="min-h-10 w-full"
          />
        </div>
        <div>
          <p className="mb-1 text-small text-ink2">With a parcel of</p>
          <Pick
            label="With a parcel of"
            value={first}
            options={figures.map((one) => ({
              value: String(one.first),
              text: many(one.units, "unit"),
            }))}
            onPick={setFirst}
            className="min-h-10 w-full"
          />
        </div>
      </div>
      {kind === "drop" || kind === "throw" ? (
        <div>
          <p className="mb-1 text-small text-ink2">It falls on</p>
          <Pick
            label="It falls on"
            value={place}
            options={DROP_PLACES.map((one) => ({ value: one, text: one }))}
            onPick={(value) => setPlace(value as Place)}
            className="min-h-10 w-full"
          />
        </div>
      ) : null}
      {kind === "drop" ? (
        <p className="text-[21px] font-semibold">
          {height === null
            ? "This size cannot be packed yet"
            : `Drop it from ${format.length(height * 1000)}`}
          <span className="block text-small font-normal text-ink2">
            For its weight. This test is a planning aid, not a certificate.
          </span>
        </p>
      ) : null}
      <Field
        label="What you saw"
        maxLength={400}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <label className="text-small text-ink2">
        Photo, PNG or JPEG
        <input
          type="file"
          accept="image/png,image/jpeg"
          className="mt-1 block"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) void fileText(file).then(setPhoto);
          }}
        />
      </label>
      <ProblemNote error={add.error} />
      <div className="flex gap-3">
        <Button kind="next" disabled={add.isPending} onClick={() => add.mutate(true)}>
          Passed
        </Button>
        <Button kind="stop" disabled={add.isPending} onClick={() => add.mutate(false)}>
          Failed
        </Button>
      </div>
    </div>
  );
}
