/** Settings: the workshop, its people, every figure of judgement, the sample workshop. */
import { useSession } from "../../app/session";
import { useAddress } from "../../ui/list/useList";
import { ScreenHead } from "../../ui/parts";
import { PickRow } from "../../ui/PickRow";
import { People } from "../account/People";
import { Channels } from "../channels/Channels";
import { Tokens } from "../channels/Tokens";
import { Figures } from "./Figures";
import { SampleWorkshop } from "./SampleWorkshop";
import { WorkshopForm } from "./WorkshopForm";

const PARTS = [
  { value: "figures", text: "Figures" },
  { value: "workshop", text: "Workshop" },
  { value: "people", text: "People" },
  { value: "channels", text: "Channels" },
  { value: "tokens", text: "Other programs" },
  { value: "sample", text: "Sample" },
];

export function SettingsScreen() {
  const [params, set] = useAddress();
  const { role, sees_costs } = useSession();
  const owner = role === "owner";
  const parts = PARTS.filter(
    (one) =>
      owner ||
      one.value === "workshop" ||
      one.value === "channels" ||
      (sees_costs && one.value === "figures"),
  );
  const part = params.get("part") ?? parts[0]?.value ?? "workshop";
  const tabs = (
    <div className="px-6 pt-2">
      <PickRow
        label="Parts of the settings"
        value={part}
        options={parts}
        onPick={(now) => set({ part: now === parts[0]?.value ? null : now })}
      />
    </div>
  );
  if (part === "figures") return <Figures tabs={tabs} owner={owner} />;
  return (
    <>
      {tabs}
      {part === "workshop" ? <WorkshopForm owner={owner} /> : null}
      {part === "people" && owner ? (
        <>
          <ScreenHead title="People" under="Who packs here, and what each may do" />
          <div className="border-t border-line bg-sheet p-6">
            <People />
          </div>
        </>
      ) : null}
      {part === "channels" ? <Channels owner={owner} /> : null}
      {part === "tokens" && owner ? <Tokens /> : null}
      {part === "sample" && owner ? <SampleWorkshop /> : null}
    </>
  );
}
