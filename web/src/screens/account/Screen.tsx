/** Your account: the password, the places you are signed in at and, for the owner, the people of the workshop. */
import { useSession } from "../../app/session";
import { ScreenHead } from "../../ui/parts";
import { PasswordForm } from "./PasswordForm";
import { People } from "./People";
import { Places } from "./Places";

export function AccountScreen() {
  const who = useSession();
  return (
    <>
      <ScreenHead title="Your account" under={`${who.name}, ${who.role} of ${who.workshop}`} />
      <div className="grid gap-x-10 gap-y-8 bg-sheet p-6 lg:grid-cols-[minmax(18rem,24rem)_1fr]">
        <section aria-labelledby="password">
          <h2 id="password" className="text-[21px]">
            Password
          </h2>
          <PasswordForm />
        </section>
        <div className="flex min-w-0 flex-col gap-8">
          <Places />
          {who.role === "owner" ? <People /> : null}
        </div>
      </div>
    </>
  );
}
