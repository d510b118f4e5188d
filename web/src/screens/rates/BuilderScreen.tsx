/** A price list by hand: zones, services with their grids, surcharges; checked and tried while it is typed. */
import { TypedField } from "../../ui/TypedField";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { importTariff, checkTariff, tariffDocument } from "../../api/prices";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { Button, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { PickRow } from "../../ui/PickRow";
import { useDraft } from "../../ui/useDraft";
import { useRested } from "../../ui/useRested";
import { useSubmitKey } from "../../ui/useSubmitKey";
import { useToast } from "../../ui/useToast";
import { fromFile } from "./listFromFile";
import { codeOf, toFile } from "./listToFile";
import {
  columnsOf,
  newList,
  newService,
  withColumns,
  type FileDoc,
  type ServiceRow,
  type TypedList,
} from "./typedList";
import { Checked, type TriedParcel, useTried } from "./Checked";
import { PackageRows } from "./PackageRows";
import { RatesTabs } from "./RatesTabs";
import { ServiceForm } from "./ServiceForm";
import { ZoneRows } from "./ZoneRows";

export function NewTariffScreen() {
  return <Builder file={null} />;
}

export function ChangeTariffScreen() {
  const id = Number(useParams().tariffId);
  const found = useQuery(tariffDocument(id));
  if (found.isPending) return <Waiting what="the price list" />;
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  return <Builder key={id} file={found.data} />;
}

const today = (): string => new Date().toLocaleDateString("sv-SE");

/** A list in force is followed by a new version from today; one that is to come, or began today, is changed itself. */
const changing = (typed: TypedList): TypedList =>
  typed.validFrom < today() ? { ...typed, version: today(), validFrom: today() } : typed;

function Builder({ file }: { file: FileDoc | null }) {
  const { country, currency } = useSession();
  const { system } = useFormat();
  const navigate = useNavigate();
  const draft = useDraft<TypedList>(
    `tariff-${file ? codeOf(String(file.carrier), "") : "new"}`,
    () => (file ? changing(fromFile(file, system)) : newList(country, today(), system)),
  );
  const { value: typed, setValue: setTyped } = draft;
  const [at, setAt] = useState("0");
  const tried = useTried(typed.zones[0]?.country ?? country);
  const made = toFile(typed, system);
  const document = { currency, ...made.file };
  const save = useSave(draft.drop);
  const send = () => {
    // Of the version it was read from it takes the place, where no parcel went by that one.
    const replace = file?.tariff_version === typed.version;
    if (!save.isPending) save.mutate({ content: JSON.stringify(document), replace });
  };
  const leave = () => void navigate("/rates/tariffs");
  useSubmitKey(send);
  useActions([{ key: "escape", label: "Leave it", run: leave }]);
  const change = (now: Partial<TypedList>) =>
    setTyped((was) => {
      const next = { ...was, ...now };
      const services = next.services.map((service) =>
        // A service with zones of its own does not follow those of the list.
        service.zones.length > 0
          ? service
          : { ...service, sizes: withColumns(service.sizes, columnsOf(was), columnsOf(next)) },
      );
      return { ...next, services };
    });
  return (
    <>
      <RatesTabs />
      <ScreenHead
        title={typed.carrier || "New price list"}
        under={
          file
            ? "A new version, with its own date: what was sent by the old one stays as it was"
            : "What one carrier asks: its zones, its services, its prices"
        }
      >
        <Button hotkey="Esc" onClick={leave}>
          Cancel
        </Button>
        <Button
          kind="next"
          hotkey="Ctrl Enter"
          disabled={save.isPending || made.unread.length > 0}
          onClick={send}
        >
          Save the price list
        </Button>
      </ScreenHead>
      {draft.restored ? (
        <Notice kind="mind" action={<Button onClick={draft.restart}>Begin again</Button>}>
          This is your draft; it was not saved yet.
        </Notice>
      ) : null}
      <div className="grid grid-cols-[minmax(0,1fr)_340px] border-t border-line bg-sheet max-lg:grid-cols-1">
        <div className="min-w-0 px-6 py-4">
          <Named typed={typed} isNew={file === null} onChange={change} />
          <Services typed={typed} at={at} onAt={setAt} onChange={change} />
        </div>
        <Aside document={document} unread={made.unread} tried={tried} error={save.error} />
      </div>
    </>
  );
}

function useSave(onSaved: () => void) {
  const say = useToast();
  const navigate = useNavigate();
  return useMutation({
    ...importTariff(),
    onSuccess: (done) => {
      onSaved();
      say(
        done.new
          ? `${done.row.carrier_name} ${done.row.version} is saved.`
          : "This price list was already imported; nothing changed.",
      );
      void navigate(`/rates/tariffs?list=${done.row.id}`);
    },
  });
}

function Aside({
  document,
  unread,
  tried,
  error,
}: {
  document: FileDoc;
  unread: ReturnType<typeof toFile>["unread"];
  tried: TriedParcel;
  error: Error | null;
}) {
  const rested = useRested(JSON.stringify({ document, parcel: tried.parcel }), 500);
  const checked = useQuery(checkTariff(JSON.parse(rested) as Parameters<typeof checkTariff>[0]));
  return (
    <aside
      className="border-l border-line px-5 py-4 max-lg:border-l-0 max-lg:border-t"
      aria-label="Checked and tried"
    >
      <ProblemNote error={error ?? checked.error} />
      <Checked checked={checked.data} unread={unread} tried={tried} />
    </aside>
  );
}

interface Part {
  typed: TypedList;
  onChange: (now: Partial<TypedList>) => void;
}

function Named({ typed, isNew, onChange }: Part & { isNew: boolean }) {
  return (
    <>
      <div className="grid grid-cols-[minmax(0,2fr)_minmax(0,1fr)_minmax(0,1fr)_minmax(0,2fr)] gap-3 max-md:grid-cols-2">
        <TypedField
          values={typed}
          name="carrier"
          set={onChange}
          label="Carrier"
          autoFocus={isNew}
          maxLength={80}
        />
        <TypedField values={typed} name="version" set={onChange} label="Version" maxLength={30} />
        <TypedField values={typed} name="validFrom" set={onChange} label="Valid from" type="date" />
        <TypedField
          values={typed}
          name="source"
          set={onChange}
          label="Where it comes from"
          maxLength={200}
        />
      </div>
      <ZoneRows typed={typed} onChange={onChange} />
      <TypedField
        values={typed}
        name="holidays"
        set={onChange}
        className="mt-3"
        label="Days nothing moves"
        placeholder="2026-12-25, 2026-12-26"
      />
    </>
  );
}

function Services({
  typed,
  at,
  onAt,
  onChange,
}: Part & { at: string; onAt: (at: string) => void }) {
  const columns = columnsOf(typed);
  const index = Math.min(Number(at) || 0, typed.services.length - 1);
  const service = typed.services[index];
  const set = (now: ServiceRow) =>
    onChange({ services: typed.services.map((one, n) => (n === index ? now : one)) });
  const add = () => {
    onAt(String(typed.services.length));
    onChange({ services: [...typed.services, newService(columns.length)] });
  };
  return (
    <section className="mt-5" aria-label="Services">
      <div className="flex flex-wrap items-center gap-x-6 border-b border-line">
        <PickRow
          label="Services and packages"
          value={at === "packages" ? at : String(index)}
          options={[
            ...typed.services.map((one, n) => ({
              value: String(n),
              text: one.name || `Service ${n + 1}`,
            })),
            { value: "packages", text: "Its own packages" },
          ]}
          onPick={onAt}
        />
        <button type="button" className="min-h-11 text-action underline" onClick={add}>
          Add a service
        </button>
        {typed.services.length > 1 && at !== "packages" ? (
          <button
            type="button"
            className="min-h-11 text-ink2 underline"
            onClick={() => {
              onAt("0");
              onChange({ services: typed.services.filter((_, n) => n !== index) });
            }}
          >
            Take this one off
          </button>
        ) : null}
      </div>
      {at === "packages" ? (
        <PackageRows typed={typed} onChange={onChange} />
      ) : service ? (
        <ServiceForm key={index} service={service} typed={typed} onChange={set} />
      ) : null}
    </section>
  );
}
