/** Put a supply into the recipe: found by part of its name, code or place on the shelf. */
import { Sheet } from "../../ui/Sheet";
import { Combo } from "../../ui/Combo";
import { withSupply } from "./edits";
import type { RecipeDoc, Supply } from "./rows";

const AS: Record<string, string> = {
  wrap: "another layer",
  fill: "the fill",
  tape: "the tape",
  insert: "an insert",
  unit_box: "a box for each",
  carton: "a container",
  mailer: "a container",
};

export function AddSheet({
  open,
  onClose,
  doc,
  supplies,
  onChange,
}: {
  open: boolean;
  onClose: () => void;
  doc: RecipeDoc;
  supplies: Supply[];
  onChange: (doc: RecipeDoc) => void;
}) {
  const options = supplies.map((one) => ({
    value: one.code,
    text: `${one.shelf}${one.slot}  ${one.name}, ${one.code}, as ${AS[one.kind] ?? one.kind}`,
  }));
  return (
    <Sheet
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title="Add to the recipe"
      description="It goes into every order size; leave it out of one with Delete."
    >
      <div className="min-h-80">
        {open ? (
          <Combo
            label="Which supply"
            value=""
            options={options}
            onClose={(why) => why === "escaped" && onClose()}
            onPick={({ value: code }) => {
              const supply = supplies.find((one) => one.code === code);
              if (supply) onChange(withSupply(doc, supply));
              onClose();
            }}
            placeholder="Part of its name, code or shelf"
          />
        ) : null}
      </div>
    </Sheet>
  );
}
