/** A recipe copied under another name, or taken off the lists. */
import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { retireRecipe, saveRecipe } from "../../api/recipes";
import { useActions } from "../../app/keys";
import { useToast } from "../../ui/useToast";

export function CopyRetire({ data }: { data: Schemas["RecipeOut"] }) {
  const say = useToast();
  const navigate = useNavigate();
  const copy = useMutation({
    ...saveRecipe(),
    onSuccess: (made) => {
      say("Copied. It packs nothing yet: name it at a product.");
      void navigate(`/recipes/${made.id}`);
    },
    onError: (error) => say(error.message, "stop"),
  });
  const retire = useMutation({
    ...retireRecipe(),
    onSuccess: () => {
      say(`${data.name} is retired. It can be brought back under Recipes.`);
      void navigate("/recipes");
    },
    onError: (error) => say(error.message, "stop"),
  });
  const doCopy = () => {
    const code = `${data.document.code.slice(0, 22)}-${Date.now().toString(36).slice(-4)}`;
    copy.mutate({
      document: { ...data.document, code, name: `${data.name.slice(0, 70)}, copy` },
      reason: `Copied from ${data.name}, version ${data.version.number}`.slice(0, 200),
      product_ids: [],
    });
  };
  useActions([
    { key: "d", label: "Copy the recipe", run: doCopy },
    {
      key: "x",
      label: "Retire the recipe",
      run: () => retire.mutate({ id: data.id, retired: true }),
    },
  ]);
  const key = "hover:text-ink";
  return (
    <>
      <button type="button" className={key} disabled={copy.isPending} onClick={doCopy}>
        <span className="keycap" aria-hidden="true">
          D
        </span>{" "}
        copy
      </button>
      <button
        type="button"
        className={key}
        disabled={retire.isPending}
        onClick={() => retire.mutate({ id: data.id, retired: true })}
      >
        <span className="keycap" aria-hidden="true">
          X
        </span>{" "}
        retire
      </button>
    </>
  );
}
