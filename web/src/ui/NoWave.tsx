/** Where a wave's screen is opened without a wave: the way to one. */
import { Link } from "react-router";
import { Empty } from "./parts";

export function NoWave() {
  return (
    <Empty title="No wave was chosen">
      <p>
        <Link className="text-action underline" to="/day">
          Open the day
        </Link>{" "}
        and gather the next wave there.
      </p>
    </Empty>
  );
}
