/** Sales channels: those that are asked for orders, and how the files of others are read. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import {
  askChannel,
  channelHappens,
  connectChannel,
  disconnectChannel,
  channelLinks,
} from "../../api/channels";
import { forgetChannelFile, forgetGoodsName, channelFiles, goodsNames } from "../../api/orders";
import { many, momentWords } from "../../domain/words";
import { Pages } from "../../ui/list/ListBar";
import { Table } from "../../ui/list/Table";
import { useToast } from "../../ui/useToast";
import { Button, Field, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { FIELD_WORDS } from "../orders/matching";

type Link = Schemas["ChannelLinkOut"];

export function Channels({ owner }: { owner: boolean }) {
  return (
    <>
      <ScreenHead
        title="Channels"
        under="Where orders come from: channels that are asked for them, and files of others"
      />
      <div className="flex flex-col gap-8 border-t border-line bg-sheet p-6">
        <Links owner={owner} />
        <Files owner={owner} />
        <Names owner={owner} />
      </div>
    </>
  );
}

function Links({ owner }: { owner: boolean }) {
  const list = useQuery(channelLinks());
  const [name, setName] = useState("");
  const connect = useMutation({ ...connectChannel(), onSuccess: () => setName("") });
  return (
    <section aria-labelledby="links">
      <h2 id="links" className="text-[21px]">
        Connected
      </h2>
      <p className="mb-2 text-ink2">
        Asked every minute for new orders, and told the tracking number once a parcel is closed. The
        channel that ships with the program is simulated.
      </p>
      <ProblemNote error={list.error ?? connect.error} />
      {list.isPending ? <Waiting what="the channels" /> : null}
      {list.data?.links.map((link) => (
        <OneLink key={link.id} link={link} owner={owner} />
      ))}
      {owner ? (
        <form
          className="mt-3 flex items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim()) connect.mutate(name.trim());
          }}
        >
          <Field
            label="Connect the simulated channel as"
            className="w-72"
            maxLength={30}
            value={name}
            placeholder="Name of the channel"
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" disabled={!name.trim() || connect.isPending}>
            Connect
          </Button>
        </form>
      ) : null}
    </section>
  );
}

function OneLink({ link, owner }: { link: Link; owner: boolean }) {
  const say = useToast();
  const failed = { onError: (error: Error) => say(error.message, "stop") };
  const ask = useMutation({
    ...askChannel(),
    ...failed,
    onSuccess: (got) =>
      got.problem
        ? say(got.problem, "stop")
        : say(
            `${many(got.new_orders, "new order")}, ${got.changed_orders + got.cancelled_orders} changed or cancelled.`,
          ),
  });
  const off = useMutation({ ...disconnectChannel(), ...failed });
  const on = useMutation({ ...connectChannel(), ...failed });
  const happens = useMutation({
    ...channelHappens(),
    ...failed,
    onSuccess: ({ numbers }) =>
      say(numbers.length > 0 ? `At the channel: ${numbers.join(", ")}.` : "It has no order yet."),
  });
  return (
    <div className="border-t border-line py-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <b className="min-w-40">{link.name}</b>
        <span className="grow text-ink2">
          {link.on ? "" : "Switched off. "}
          {link.answered_at ? `Answered ${momentWords(link.answered_at)}.` : "Not asked yet."}{" "}
          {link.told > 0 ? `${many(link.told, "tracking number")} told. ` : ""}
          {link.waiting > 0 ? `${link.waiting} not taken yet.` : ""}
        </span>
        {link.on ? (
          <Button disabled={ask.isPending} onClick={() => ask.mutate(link.id)}>
            {ask.isPending ? "Asking…" : "Ask now"}
          </Button>
        ) : null}
        {owner ? (
          <Button
            disabled={off.isPending || on.isPending}
            onClick={() => (link.on ? off.mutate(link.id) : on.mutate(link.name))}
          >
            {link.on ? "Switch off" : "Switch on"}
          </Button>
        ) : null}
      </div>
      {link.problem ? (
        <p className="mt-1 text-stop">
          <Mark kind="stop" /> {link.problem} It is asked again within a minute.
        </p>
      ) : null}
      {link.unread.map((one) => (
        <p key={one.number} className="mt-1">
          <Mark kind="mind" /> Order {one.number} cannot be read: {one.faults.join("; ")}
        </p>
      ))}
      {owner ? (
        <p className="mt-2 flex flex-wrap items-center gap-2 text-small text-ink2">
          Try it:
          {(
            [
              ["order", "A buyer orders"],
              ["change", "The last order is changed"],
              ["cancel", "The last order is cancelled"],
            ] as const
          ).map(([what, text]) => (
            <Button
              key={what}
              kind="quiet"
              disabled={happens.isPending}
              onClick={() => happens.mutate({ what, count: 1 })}
            >
              {text}
            </Button>
          ))}
        </p>
      ) : null}
    </div>
  );
}

/** The last column of what is remembered: its button. */
function forgetting(forget: { isPending: boolean; mutate: (id: number) => void }) {
  return {
    key: "forget",
    name: "Forget",
    quiet: true,
    className: "text-right",
    cell: (row: { id: number }) => (
      <Button disabled={forget.isPending} onClick={() => forget.mutate(row.id)}>
        Forget
      </Button>
    ),
  };
}

function Files({ owner }: { owner: boolean }) {
  const list = useQuery(channelFiles());
  const forget = useMutation(forgetChannelFile());
  return (
    <section aria-labelledby="files">
      <h2 id="files" className="text-[21px]">
        Files
      </h2>
      <p className="text-ink2">How the files of each channel are read, since you said it once.</p>
      <ProblemNote error={list.error ?? forget.error} />
      {list.data && list.data.results.length === 0 ? (
        <p className="mt-2">
          None yet. Import a file with columns of its own: you are asked there.
        </p>
      ) : null}
      {list.data && list.data.results.length > 0 ? (
        <Table
          className="mt-2"
          caption="Channels and how their files are read"
          rows={list.data.results}
          rowKey={(row) => row.id}
          columns={[
            { key: "name", name: "Channel", className: "font-semibold", cell: (row) => row.name },
            {
              key: "fields",
              name: "Read from",
              className: "text-ink2",
              cell: (row) =>
                row.fields
                  .filter((one) => one.columns.length > 0)
                  .map(
                    (one) =>
                      `${(FIELD_WORDS[one.name] ?? one.name).toLowerCase()} from ${one.columns.join(" and ")}`,
                  )
                  .join(", "),
            },
            owner ? forgetting(forget) : null,
          ]}
        />
      ) : null}
    </section>
  );
}

function Names({ owner }: { owner: boolean }) {
  const [page, setPage] = useState(1);
  const list = useQuery(goodsNames(page));
  const forget = useMutation(forgetGoodsName());
  if (!list.data || list.data.count === 0) return <ProblemNote error={list.error} />;
  return (
    <section aria-labelledby="names">
      <h2 id="names" className="text-[21px]">
        What others call your products
      </h2>
      <ProblemNote error={list.error ?? forget.error} />
      <Table
        className="mt-2"
        caption="Names in files and the products they mean"
        rows={list.data.results}
        rowKey={(row) => row.id}
        columns={[
          { key: "said", name: "In files", className: "font-semibold", cell: (row) => row.said },
          {
            key: "product",
            name: "Your product",
            cell: (row) => (
              <>
                {row.name} <span className="text-ink2">{row.sku}</span>
              </>
            ),
          },
          owner ? forgetting(forget) : null,
        ]}
      />
      <Pages page={page} pages={list.data.pages} onTurn={setPage} back="Before" on="More" />
    </section>
  );
}
