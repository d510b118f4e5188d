/** The sheets over a recipe: one is open at a time. */
import type { Schemas } from "../../api/client";
import { AddSheet } from "./AddSheet";
import { BandsSheet } from "./BandsSheet";
import { SaveSheet } from "./SaveSheet";
import { TrialsSheet } from "./TrialsSheet";
import type { useRecipe } from "./useRecipe";
import { VersionsSheet } from "./VersionsSheet";
import { WaysSheet } from "./WaysSheet";
import { WordsSheet } from "./WordsSheet";

export type SheetName = "keep" | "versions" | "add" | "bands" | "words" | "ways" | "trials" | null;

interface Props {
  sheet: SheetName;
  onClose: () => void;
  data: Schemas["RecipeOut"];
  edit: ReturnType<typeof useRecipe>;
  supplies: Schemas["SupplyOut"][];
  column: number;
  locked: boolean;
}

export function RecipeSheets({ sheet, onClose, data, edit, supplies, column, locked }: Props) {
  return (
    <>
      <SaveSheet
        open={sheet === "keep"}
        onClose={onClose}
        number={data.version.number + 1}
        saving={edit.saving}
      />
      <AddSheet
        open={sheet === "add"}
        onClose={onClose}
        doc={edit.doc}
        supplies={supplies}
        onChange={edit.change}
      />
      <BandsSheet
        open={sheet === "bands"}
        onClose={onClose}
        doc={edit.doc}
        onChange={edit.change}
      />
      <WordsSheet
        key={`words-${String(sheet === "words")}`}
        open={sheet === "words"}
        onClose={onClose}
        doc={edit.doc}
        locked={locked}
        onChange={edit.change}
      />
      <WaysSheet
        open={sheet === "ways"}
        onClose={onClose}
        id={data.id}
        doc={edit.doc}
        column={column}
        locked={locked}
        onBand={edit.setBand}
      />
      <TrialsSheet
        open={sheet === "trials"}
        onClose={onClose}
        id={data.id}
        version={data.version.number}
        figures={data.figures}
      />
      <VersionsSheet
        open={sheet === "versions"}
        onClose={onClose}
        id={data.id}
        name={data.name}
        newest={data.version.number}
      />
    </>
  );
}
