/** A part behind a line. Open at first when it holds something; then as the person leaves it. */
import { useState, type ReactNode } from "react";

export function Fold({
  title,
  open,
  strong = false,
  className = "",
  children,
}: {
  title: string;
  open: boolean;
  strong?: boolean;
  className?: string;
  children: ReactNode;
}) {
  const [shown, setShown] = useState(open);
  return (
    <details
      className={className}
      open={shown}
      onToggle={(event) => setShown(event.currentTarget.open)}
    >
      <summary
        className={`cursor-pointer ${strong ? "min-h-10 py-2 font-semibold" : "min-h-8 text-small text-ink2"}`}
      >
        {title}
      </summary>
      {children}
    </details>
  );
}
