/** The rooms of one place, side by side, one digit each; the room you are in is marked. */
import { Link, useLocation, useNavigate } from "react-router";
import { useActions } from "./keys";
import { roomAt } from "./roomAt";

export interface Room {
  to: string;
  name: string;
  /** Beside its name; none or 0: nothing. */
  count?: number | undefined;
}

export function RoomTabs({ label, rooms }: { label: string; rooms: readonly Room[] }) {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  useActions(
    rooms.map((room, index) => ({
      key: String(index + 1),
      label: room.name,
      run: () => void navigate(room.to),
    })),
  );
  const at = roomAt(rooms, pathname);
  return (
    <nav aria-label={label} className="flex flex-wrap gap-x-5 px-6 pt-2">
      {rooms.map((room, index) => (
        <Link
          key={room.to}
          to={room.to}
          aria-current={room.to === at ? "page" : undefined}
          className={`inline-flex min-h-11 items-center gap-2 border-b-2 ${room.to === at ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
        >
          <span className="keycap" aria-hidden="true">
            {index + 1}
          </span>
          {room.name}
          {room.count ? <b className="text-ink">{room.count}</b> : null}
        </Link>
      ))}
    </nav>
  );
}
