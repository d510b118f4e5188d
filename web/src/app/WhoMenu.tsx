/** Your own menu: the workshop, the theme, signing out. */
import { useMutation } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { useNavigate } from "react-router";
import { signOut } from "../api/frame";
import { forgetDrafts } from "../ui/useDraft";
import { useSession } from "./session";
import { applyTheme, savedTheme } from "./theme";

export function WhoMenu() {
  const who = useSession();
  const navigate = useNavigate();
  const [theme, setTheme] = useState(savedTheme);
  const leave = useMutation({
    ...signOut(),
    onSuccess: () => {
      forgetDrafts();
      window.location.assign("/");
    },
  });
  const turn = () => {
    const next = theme === "dim" ? "light" : "dim";
    applyTheme(next);
    setTheme(next);
  };
  const item =
    "block w-full cursor-pointer rounded-part px-3 py-2 text-left outline-none data-[highlighted]:bg-soft";
  return (
    <DropdownMenu.Root defaultOpen>
      <DropdownMenu.Trigger className="min-w-15 max-w-24 min-h-11 truncate rounded-part px-2 text-ink2 hover:text-ink">
        {who.name}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          className="z-40 min-w-56 rounded-part border border-line2 bg-sheet p-1.5"
        >
          <DropdownMenu.Label className="px-3 py-2 text-small text-ink2">
            {who.workshop}, {who.role}
          </DropdownMenu.Label>
          <DropdownMenu.Item className={item} onSelect={() => void navigate("/settings")}>
            Settings
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void navigate("/times")}>
            Hours and hand-overs
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void navigate("/account")}>
            Your account
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={turn}>
            {theme === "dim" ? "Light theme" : "Dark theme"}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => leave.mutate()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
