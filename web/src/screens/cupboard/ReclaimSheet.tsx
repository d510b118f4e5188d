/** A second-hand carton comes in: measured inside, weighed empty, one of it, at no cost. */
import { useState } from "react";
import { answer, api } from "../../api/client";
import { Sheet } from "../../ui/overlays";
import { Button, Field, ProblemNote } from "../../ui/parts";
import { usePosting } from "./SupplyPanel";

const EMPTY = { length: "", width: "", height: "", weight: "", note: "" };

export function ReclaimSheet({
  shelf,
  open,
  onOpenChange,
}: {
  shelf: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title="Add a reclaimed carton"
      description="One carton of its own size. It costs nothing and is gone when it goes out."
    >
      {open ? <Measured shelf={shelf} onDone={() => onOpenChange(false)} /> : null}
    </Sheet>
  );
}

function Measured({ shelf, onDone }: { shelf: string; onDone: () => void }) {
  const [given, setGiven] = useState(EMPTY);
  const [board, setBoard] = useState<"single" | "double">("single");
  const post = usePosting(
    (now) => `${now.name} lies on ${now.shelf}${now.slot}. Write ${now.code} on it.`,
    onDone,
  );
  const send = () =>
    post.mutate((request_key) =>
      answer(
        api.POST("/api/supplies/reclaimed", { body: { ...given, board, shelf, request_key } }),
      ),
    );
  const field = (
    name: keyof typeof EMPTY,
    label: string,
    more: { unit?: string; autoFocus?: boolean; hint?: string } = {},
  ) => (
    <Field
      label={label}
      required={name !== "note"}
      maxLength={name === "note" ? 120 : 40}
      {...more}
      value={given[name]}
      onChange={(event) => setGiven({ ...given, [name]: event.target.value })}
    />
  );
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!post.isPending) send();
      }}
    >
      <div className="grid grid-cols-3 gap-3">
        {field("length", "Length inside", { unit: "mm", autoFocus: true })}
        {field("width", "Width inside", { unit: "mm" })}
        {field("height", "Height inside", { unit: "mm" })}
      </div>
      <div className="grid grid-cols-2 gap-3">
        {field("weight", "Weight, empty", { unit: "g" })}
        <fieldset>
          <legend className="text-small text-ink2">Walls of the board</legend>
          <div className="flex gap-4">
            {(["single", "double"] as const).map((one) => (
              <label key={one} className="flex min-h-10 items-center gap-2 whitespace-nowrap">
                <input
                  type="radio"
                  name="board"
                  className="size-5 accent-action"
                  checked={board === one}
                  onChange={() => setBoard(one)}
                />
                {one}
              </label>
            ))}
          </div>
        </fieldset>
      </div>
      {field("note", "Where it came from")}
      <p className="text-small text-ink2">
        A bare number is mm or g; 31 cm, 12 1/4 in or 0.24 kg will do as well. It is trusted with{" "}
        {board === "single" ? "8" : "15"} kg.
      </p>
      <ProblemNote error={post.error} />
      <div className="flex gap-3">
        <Button type="submit" kind="next" disabled={post.isPending}>
          Add to stock
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}
