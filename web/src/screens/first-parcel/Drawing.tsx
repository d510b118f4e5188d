/** The first parcel taken apart: what is there is drawn whole, what is missing is dashed. */
import type { Part } from "./parts";

interface Props {
  parts: ReadonlyMap<string, Part>;
}

export function Drawing({ parts }: Props) {
  const has = (code: string) => parts.get(code)?.there ?? false;
  const missing = [...parts.values()].filter((part) => !part.there).length;
  return (
    <svg
      viewBox="0 0 300 470"
      className="h-[470px] w-full"
      role="img"
      aria-label={`A parcel taken apart, ${missing === 0 ? "with everything there" : `${missing} of ${parts.size} things missing`}`}
    >
      <Tape there={has("tape")} />
      <Goods there={has("product")} />
      <Wrap there={has("wrap")} />
      <Carton there={has("carton")} />
      <Fill there={has("fill")} />
      <path d="M0 462h300" stroke="var(--ink)" strokeWidth="2.5" />
    </svg>
  );
}

const outline = (there: boolean) =>
  there
    ? { stroke: "var(--board-edge)", strokeWidth: 2 }
    : { stroke: "var(--ink2)", strokeWidth: 1.6, strokeDasharray: "5 5", fill: "none" };

function Tape({ there }: { there: boolean }) {
  return (
    <g {...outline(there)} fill={there ? "var(--board-light, var(--board))" : "none"}>
      <path d="M96 38l22-10 96 44-22 10z" />
      <path d="M192 82l22-10v18l-22 10z" />
    </g>
  );
}

function Goods({ there }: { there: boolean }) {
  const line = there
    ? { stroke: "var(--ink)", strokeWidth: 2.2, fill: "var(--sheet)" }
    : outline(false);
  return (
    <g {...line}>
      <path d="M116 122v48c0 10 17 18 38 18s38-8 38-18v-48" />
      <ellipse cx="154" cy="122" rx="38" ry="14" />
      <ellipse cx="154" cy="118" rx="12" ry="5" />
    </g>
  );
}

function Wrap({ there }: { there: boolean }) {
  return (
    <g {...outline(there)} fill={there ? "var(--sheet)" : "none"}>
      <path d="M106 222v54c0 12 21 21 48 21s48-9 48-21v-54" />
      <ellipse cx="154" cy="222" rx="48" ry="18" />
      {there ? (
        <path
          d="M116 240l18 48M132 245l20 50M152 247l18 49M172 244l14 44"
          strokeWidth="1"
          fill="none"
        />
      ) : null}
    </g>
  );
}

function Carton({ there }: { there: boolean }) {
  return (
    <g {...outline(there)} fill={there ? "var(--board)" : "none"}>
      <path d="M60 358l94-40 94 40v62l-94 40-94-40z" />
      <path d="M60 358l94 40 94-40M154 398v62" fill="none" />
      <path d="M60 358l-26-16 92-40 28 16M248 358l26-16-92-40-28 16" />
    </g>
  );
}

function Fill({ there }: { there: boolean }) {
  return (
    <g {...outline(there)} fill={there ? "var(--sheet)" : "none"}>
      <path d="M92 356l62-26 62 26-62 26z" />
      {there ? (
        <path d="M110 356l30 12M124 350l38 16M140 344l40 16M156 338l40 16" strokeWidth="1" />
      ) : null}
    </g>
  );
}
