/** Where you are signed in, and signing out from afar. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { endPlace, places } from "../../api/account";
import { momentWords } from "../../domain/words";
import { Table } from "../../ui/list/Table";
import { ProblemNote, Waiting } from "../../ui/parts";

export function Places() {
  const list = useQuery(places());
  const end = useMutation(endPlace());
  return (
    <section aria-labelledby="places">
      <h2 id="places" className="text-[21px]">
        Where you are signed in
      </h2>
      <ProblemNote error={list.error ?? end.error} />
      {list.isPending ? <Waiting what="the places" /> : null}
      {list.isSuccess ? (
        <Table
          className="mt-2"
          caption="Where you are signed in"
          rows={list.data.results}
          rowKey={(place) => place.id}
          columns={[
            {
              key: "agent",
              name: "Browser",
              className: "max-w-96",
              cell: (place) => browser(place.agent),
            },
            {
              key: "seen",
              name: "Last used",
              className: "whitespace-nowrap text-ink2",
              cell: (place) => momentWords(place.seen_at),
            },
            {
              key: "end",
              name: "Sign out",
              quiet: true,
              className: "text-right whitespace-nowrap",
              cell: (place) =>
                place.here ? (
                  <span className="text-ink2">this one</span>
                ) : (
                  <button
                    type="button"
                    className="min-h-8 text-action underline"
                    disabled={end.isPending}
                    onClick={() => end.mutate(place.id)}
                  >
                    Sign out
                  </button>
                ),
            },
          ]}
        />
      ) : null}
    </section>
  );
}

/** The machine in a browser's long name of itself: what stands in the first brackets. */
function browser(agent: string): string {
  const machine = /\(([^)]+)\)/.exec(agent)?.[1]?.split(";").slice(0, 2).join(",");
  return machine ? `Browser on ${machine}` : agent || "unknown";
}
