/** What a service or a class of size takes: the usual limits first, the rest behind a line. */
import { useFormat } from "../../app/session";
import { Fold } from "../../ui/Fold";
import { TypedField } from "../../ui/TypedField";
import { LIMIT_WORDS } from "./listToFile";
import { LIMITS, type LimitName, type LimitRow } from "./typedList";

const USUAL: readonly LimitName[] = [
  "max_mg",
  "longest_um",
  "sum_of_sides_um",
  "length_plus_girth_um",
];

interface Props {
  limits: LimitRow;
  onChange: (now: LimitRow) => void;
}

export function LimitFields({ limits, onChange }: Props) {
  const rest = LIMITS.filter((name) => !USUAL.includes(name));
  return (
    <div className="mt-3">
      <Fields names={USUAL} limits={limits} onChange={onChange} />
      <Fold title="More limits" open={rest.some((name) => limits[name] !== "")} className="mt-1">
        <Fields names={rest} limits={limits} onChange={onChange} />
      </Fold>
    </div>
  );
}

function Fields({ names, limits, onChange }: Props & { names: readonly LimitName[] }) {
  const { imperial } = useFormat();
  return (
    <div className="grid grid-cols-4 gap-3 max-md:grid-cols-2">
      {names.map((name) => (
        <TypedField
          key={name}
          values={limits}
          name={name}
          set={(now) => onChange({ ...limits, ...now })}
          label={LIMIT_WORDS[name].replace(/^./, (letter) => letter.toUpperCase())}
          placeholder="no limit"
          unit={name === "volume_cm3" ? (imperial ? "cu in" : "cm³") : undefined}
        />
      ))}
    </div>
  );
}
