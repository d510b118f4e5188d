/** The pattern a cushion is drawn with. */
export function CushionPattern({ id, turned }: { id: string; turned: number }) {
  return (
    <defs>
      <pattern
        id={id}
        width="8"
        height="8"
        patternUnits="userSpaceOnUse"
        patternTransform={`rotate(${turned})`}
      >
        <rect width="8" height="8" fill="var(--hatch)" />
        <path d="M0 0v8" stroke="var(--board-edge)" strokeOpacity=".45" />
      </pattern>
    </defs>
  );
}
