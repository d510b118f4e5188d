/** Signed in with a one-time password: nothing else is open until it is changed. */
import { useMutation } from "@tanstack/react-query";
import { signOut } from "../../api/frame";
import { forgetDrafts } from "../../ui/useDraft";
import { Button } from "../../ui/parts";
import { PasswordForm } from "./PasswordForm";

export function OneTimeScreen() {
  const leave = useMutation({
    ...signOut(),
    onSuccess: () => {
      forgetDrafts();
      window.location.assign("/");
    },
  });
  return (
    <main className="mx-auto max-w-md px-6 py-14">
      <h1 className="text-[28px]">Choose your password</h1>
      <p className="mt-2 text-lead text-ink2">
        You signed in with a one-time password. It works this once; choose your own now.
      </p>
      <PasswordForm oneTime />
      <Button className="mt-6 min-h-11" onClick={() => leave.mutate()}>
        Sign out
      </Button>
    </main>
  );
}
