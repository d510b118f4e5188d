/** Why an order is set aside, and what to do next. No React. */
import type { Schemas } from "../../api/client";

type Hold = Schemas["HoldOut"];
type Kind = Hold["kind"];

export const KIND_WORDS: Record<Kind, string> = {
  unpaid: "Not paid",
  risk: "Payment at risk",
  refused: "Payment refused",
  question: "Question to answer",
  change: "Changed by its channel",
  stock: "No stock",
  recipe: "No recipe",
  measure: "Not measured",
  product: "Unknown product",
  service: "No service takes it",
  until: "Leaves later",
  by_hand: "Held by somebody",
  plan: "Cannot be planned",
  weather: "Waits for the weather",
};

export interface Step {
  words: string;
  /** A screen to go to; none: it is released from here. */
  path: string | null;
}

/** The next step: where it is fixed, or that it is released. */
export function nextStep(hold: Hold): Step {
  const plan = `/plan/${hold.order_id}`;
  switch (hold.kind) {
    case "unpaid":
      return { words: "It is paid: release", path: null };
    case "risk":
      return { words: "Looked into: release", path: null };
    case "refused":
      return { words: "Cancel it", path: plan };
    case "question":
      return { words: hold.answer ? "Answered: release" : "Release", path: null };
    case "by_hand":
      return { words: "Release", path: null };
    case "change":
      return { words: "Look at the change", path: "/orders/changes" };
    case "stock":
      return { words: "Other ways", path: plan };
    case "recipe":
      return { words: "Add the recipe", path: plan };
    case "measure":
      return { words: "Measure it", path: plan };
    case "product":
      return { words: "Add the product", path: plan };
    case "service":
      return { words: "See the refusals", path: plan };
    case "until":
      return { words: "See the plan", path: plan };
    case "weather":
      return { words: "Ways out", path: plan };
    case "plan":
      return { words: "See what is missing", path: plan };
  }
}
