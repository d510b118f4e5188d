/** Trials: two or more versions side by side over real orders or at the table; no winner before the numbers are there. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { endVersionTrial, versionTrials } from "../../api/arrivals";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { percent } from "../../domain/figures";
import { dayWords, many } from "../../domain/words";
import { Whisker } from "../../drawings/Whisker";
import { niceTop, ticksTo } from "../../drawings/scale";
import { useAddress } from "../../ui/list/useList";
import { Pager } from "../../ui/Pager";
import { useToast } from "../../ui/useToast";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { TrialSheet } from "./TrialSheet";
import { ArrivalsTabs } from "./Tabs";
import { KIND_WORDS } from "./trialKinds";

type Trial = Schemas["VersionTrialOut"];

export function TrialsScreen() {
  const [params, set] = useAddress();
  const page = Number(params.get("page")) || 1;
  const list = useQuery(versionTrials(page));
  const owner = useSession().role === "owner";
  // A link that names a recipe opens the sheet with it.
  const [setting, setSetting] = useState(params.get("recipe") !== null && owner);
  useActions([{ key: "n", label: "New trial", run: () => setSetting(true), off: !owner }]);
  const rows = list.data?.results ?? [];
  const running = rows.filter((one) => one.ended_at === null).length;
  return (
    <>
      <ArrivalsTabs />
      <ScreenHead
        title={
          list.isPending
            ? "Trials"
            : running === 0
              ? "No trial is running"
              : `${many(running, "trial")} running`
        }
        under="Which way of packing arrives better, looked at once, when all the numbers are there"
      >
        {owner ? (
          <Button kind="next" hotkey="N" onClick={() => setSetting(true)}>
            New trial
          </Button>
        ) : null}
      </ScreenHead>
      <div className="border-t border-line bg-sheet px-6 py-4">
        <ProblemNote error={list.error} />
        {list.isPending ? <Waiting what="the trials" /> : null}
        {list.isSuccess && rows.length === 0 ? (
          <Empty title="Nothing was compared yet">
            Set up two versions of a recipe: orders alternate between them, and what arrives says
            which is better.
          </Empty>
        ) : null}
        {rows.map((one) => (
          <TrialPart key={one.id} trial={one} owner={owner} />
        ))}
        <Pager
          page={page}
          pages={list.data?.pages ?? 1}
          onPage={(now) => set({ page: String(now) })}
        />
      </div>
      {setting ? (
        <TrialSheet
          recipeId={Number(params.get("recipe")) || null}
          versions={(params.get("versions") ?? "").split(",").map(Number).filter(Boolean)}
          onClose={() => {
            setSetting(false);
            set({ recipe: null, versions: null });
          }}
        />
      ) : null}
    </>
  );
}

function TrialPart({ trial, owner }: { trial: Trial; owner: boolean }) {
  const tops = trial.arms.map((arm) => (arm.counted.known > 0 ? Number(arm.counted.high) : 0.05));
  const top = Math.min(1, niceTop(Math.max(0.05, ...tops)));
  const ticks = ticksTo(top);
  return (
    <section className="border-t border-line py-4 first:border-t-0" aria-label={trial.question}>
      <h2 className="text-lead">{trial.question}</h2>
      <p className="text-small text-ink2">
        {trial.recipe}, {KIND_WORDS[trial.kind]}, {trial.each} of each, since{" "}
        {dayWords(trial.began_at)}, {trial.began_by}. To tell {percent(Number(trial.rate), 1)} from{" "}
        {percent(Number(trial.hoped), 1)}.
      </p>
      <ul className="mt-2">
        {trial.arms.map((arm) => {
          const leads = trial.leads === arm.version;
          return (
            <li
              key={arm.version}
              className="grid grid-cols-[minmax(0,1fr)_260px_190px] items-center gap-4 border-t border-line py-1.5 max-md:grid-cols-1"
            >
              <span className="min-w-0">
                <b className={leads ? "text-action" : ""}>Version {arm.version}</b>
                <span className="text-ink2">
                  {" "}
                  {arm.reason}
                  {arm.in_force ? "" : " (for the trial)"}
                </span>
              </span>
              {arm.counted.known > 0 ? (
                <Whisker
                  share={Number(arm.counted.share)}
                  low={Number(arm.counted.low)}
                  high={Number(arm.counted.high)}
                  top={top}
                  width={260}
                  ticks={ticks}
                  tone={leads ? "action" : "ink"}
                  label={`Version ${arm.version}: ${arm.counted.damaged} of ${arm.counted.known}`}
                />
              ) : (
                <span className="text-ink2">nothing known yet</span>
              )}
              <span className="text-right">
                <b>
                  {arm.counted.damaged} of {arm.counted.known}
                </b>
                <span className="block text-small text-ink2">
                  {arm.picked} packed{arm.more > 0 ? `, ${arm.more} more must be known` : ""}
                </span>
              </span>
            </li>
          );
        })}
      </ul>
      <Verdict trial={trial} owner={owner} />
    </section>
  );
}

function Verdict({ trial, owner }: { trial: Trial; owner: boolean }) {
  const end = useMutation(endVersionTrial());
  const say = useToast();
  const finish = (take: number | null) =>
    end.mutate(
      { id: trial.id, take },
      {
        onSuccess: (now) =>
          say(
            now.taken === null
              ? "The trial is ended; orders are packed as before."
              : `The trial is ended; version ${now.taken} is current.`,
          ),
      },
    );
  const chance =
    trial.p === null ? "" : ` By chance so in ${percent(Number(trial.p), 1)} of trials.`;
  const words = {
    not_yet:
      "Not yet: no winner is named before every version has its number. Looking early finds winners that are none.",
    leads: `Version ${trial.leads ?? ""} is better.${chance}`,
    no_difference: `No difference that chance could not explain.${chance}`,
  }[trial.verdict];
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3">
      <p className="min-w-0 grow">
        <Mark kind={trial.verdict === "leads" ? "done" : "ok"} /> <b>{words}</b>
        {trial.ended_at ? (
          <span className="text-ink2">
            {" "}
            Ended {dayWords(trial.ended_at)}, {trial.ended_by}
            {trial.taken === null ? "; packed as before" : `; version ${trial.taken} taken`}.
          </span>
        ) : null}
      </p>
      {owner && trial.ended_at === null ? (
        <>
          {trial.verdict === "leads" && trial.leads !== null ? (
            <Button kind="next" disabled={end.isPending} onClick={() => finish(trial.leads)}>
              Pack by version {trial.leads} from now on
            </Button>
          ) : null}
          <Button disabled={end.isPending} onClick={() => finish(null)}>
            End the trial
          </Button>
        </>
      ) : null}
      <ProblemNote error={end.error} />
    </div>
  );
}
