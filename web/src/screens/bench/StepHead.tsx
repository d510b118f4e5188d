/** What a step is, in one sentence, large enough to be read from a metre, and what to mind. */
import { STEP_WORDS } from "../../domain/words";

interface Props {
  step: { kind: string; title: string; detail: string; cautions: readonly string[] };
}

export function StepHead({ step }: Props) {
  return (
    <>
      <p className="font-head text-lead font-semibold text-action">{STEP_WORDS[step.kind]}</p>
      <h2 className="mt-1 text-big leading-[1.08] max-lg:text-[36px]">{step.title}</h2>
      {step.detail ? (
        <p className="mt-3 max-w-2xl text-bench leading-normal">{step.detail}</p>
      ) : null}
      {step.cautions.map((caution) => (
        <p
          key={caution}
          className="mt-3 max-w-2xl border-l-4 border-mind bg-mind-soft px-4 py-2 text-bench"
        >
          {caution}
        </p>
      ))}
    </>
  );
}
