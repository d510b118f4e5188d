/** Figures by name, one below the other. */
export function Figures({
  rows,
  className = "",
}: {
  rows: readonly (readonly [string, string])[];
  className?: string;
}) {
  return (
    <dl className={className}>
      {rows.map(([name, value]) => (
        <div key={name} className="flex justify-between border-t border-line py-1.5">
          <dt className="text-ink2">{name}</dt>
          <dd className="font-semibold">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
