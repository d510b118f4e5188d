/** Small parts with no words of the trade: buttons, fields, marks, problems, waiting. */
import type {
  AnchorHTMLAttributes,
  ButtonHTMLAttributes,
  InputHTMLAttributes,
  ReactNode,
  Ref,
} from "react";
import { useId } from "react";
import { ProblemError } from "../api/client";

type Kind = "next" | "plain" | "quiet" | "stop";

const KINDS: Record<Kind, string> = {
  next: "bg-action text-on-action border-action font-semibold",
  plain: "bg-sheet text-action border-line2 font-semibold",
  quiet: "bg-transparent text-ink2 border-transparent hover:text-ink",
  stop: "bg-sheet text-stop border-stop font-semibold",
};

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  kind?: Kind;
  hotkey?: string;
}

export function Button({
  kind = "plain",
  hotkey,
  children,
  className = "",
  type = "button",
  ...rest
}: ButtonProps) {
  return (
    <button
      type={type}
      className={`inline-flex min-h-10 items-center gap-2.5 whitespace-nowrap rounded-part border px-4 disabled:opacity-45 ${KINDS[kind]} ${className}`}
      {...rest}
    >
      {children}
      {hotkey ? (
        <span className="keycap" aria-hidden="true">
          {hotkey}
        </span>
      ) : null}
    </button>
  );
}

/** A link that looks like a button: a paper to open, a file to save. */
export function LinkButton({
  className = "",
  children,
  ...rest
}: AnchorHTMLAttributes<HTMLAnchorElement>) {
  return (
    <a
      className={`inline-flex min-h-10 items-center gap-2.5 whitespace-nowrap rounded-part border border-line2 bg-sheet px-4 font-semibold text-action ${className}`}
      {...rest}
    >
      {children}
    </a>
  );
}

/** Opened beside the page, so that the step in hand stays. */
export const BESIDE = { target: "_blank", rel: "noreferrer" } as const;

export interface FieldProps extends InputHTMLAttributes<HTMLInputElement> {
  ref?: Ref<HTMLInputElement>;
  label: string;
  hint?: string | undefined;
  unit?: string | undefined;
  fault?: string | undefined;
}

export function Field({ label, hint, unit, fault, className = "", ...rest }: FieldProps) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className="block text-small text-ink2">
        {label}
      </label>
      <div
        className={`mt-1 flex items-center rounded-part border bg-sheet ${fault ? "border-stop" : "border-line2"} focus-within:outline focus-within:outline-2 focus-within:outline-action`}
      >
        <input
          id={id}
          className="min-h-10 w-full min-w-0 bg-transparent px-3 outline-none"
          aria-invalid={fault ? true : undefined}
          aria-describedby={fault || hint ? `${id}-more` : undefined}
          {...rest}
        />
        {unit ? <span className="pr-3 text-small text-ink2">{unit}</span> : null}
      </div>
      {fault || hint ? (
        <p id={`${id}-more`} className={`mt-1 text-small ${fault ? "text-stop" : "text-ink2"}`}>
          {fault ?? hint}
        </p>
      ) : null}
    </div>
  );
}

/** A mark with a shape of its own: lozenge for 'mind this', triangle for 'stop', square for 'done'. */
export function Mark({ kind }: { kind: "mind" | "stop" | "done" | "ok" }) {
  const shape = {
    mind: <path d="M8 1.2 14.8 8 8 14.8 1.2 8Z M8 4.6v4.2 M8 10.6v1.2" />,
    stop: <path d="M8 1.6 15 14.2H1Z M8 6v4 M8 11.6v1.2" />,
    done: <path d="M1.5 1.5h13v13h-13z M4.4 8.2l2.6 2.6 4.8-5.4" />,
    ok: <path d="M1.5 1.5h13v13h-13z" />,
  }[kind];
  const tone = { mind: "text-mind", stop: "text-stop", done: "text-ink", ok: "text-ink2" }[kind];
  return (
    <svg
      viewBox="0 0 16 16"
      className={`inline-block size-4 shrink-0 align-[-3px] ${tone}`}
      fill="none"
      stroke="currentColor"
      strokeWidth="1.6"
      aria-hidden="true"
    >
      {shape}
    </svg>
  );
}

export function Notice({
  kind,
  children,
  action,
}: {
  kind: "mind" | "stop" | "done";
  children: ReactNode;
  action?: ReactNode;
}) {
  const tone = {
    mind: "bg-mind-soft border-mind",
    stop: "bg-stop-soft border-stop",
    done: "bg-soft border-ink2",
  }[kind];
  return (
    <div
      role={kind === "stop" ? "alert" : "status"}
      className={`flex items-center gap-3 border-l-4 px-4 py-2.5 ${tone}`}
    >
      <Mark kind={kind} />
      <div className="min-w-0 grow">{children}</div>
      {action}
    </div>
  );
}

/** A refusal in the server's words, with every fault. */
export function ProblemNote({ error }: { error: unknown }) {
  if (!error) return null;
  const problem = error instanceof ProblemError ? error.problem : null;
  const faults = problem && problem.faults.length > 1 ? problem.faults : [];
  return (
    <Notice kind="stop">
      <p>
        {problem ? problem.detail : "Something went wrong here. Nothing was changed; try again."}
      </p>
      {faults.length > 0 ? (
        <ul className="mt-1 text-small">
          {faults.slice(0, 12).map((fault) => (
            <li key={fault.path + fault.message}>
              <span className="text-ink2">{fault.path}</span> {fault.message}
            </li>
          ))}
        </ul>
      ) : null}
    </Notice>
  );
}

/** Keeps the layout while something loads. */
export function Waiting({ what }: { what: string }) {
  return (
    <p role="status" className="px-6 py-10 text-ink2">
      Fetching {what}
    </p>
  );
}

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="px-6 py-14 text-center">
      <h2 className="text-lead">{title}</h2>
      <div className="mt-2 text-ink2">{children}</div>
    </div>
  );
}

export function ScreenHead({
  title,
  under,
  children,
}: {
  title: ReactNode;
  under?: ReactNode;
  children?: ReactNode;
}) {
  return (
    <header className="flex items-end justify-between gap-x-6 gap-y-3 px-6 pb-3 pt-4 max-lg:flex-wrap">
      <div className="min-w-0 grow">
        <h1 className="text-title leading-tight">{title}</h1>
        {under ? <p className="mt-0.5 text-ink2">{under}</p> : null}
      </div>
      <div className="flex shrink-0 flex-wrap gap-2.5">{children}</div>
    </header>
  );
}
