import type { ComponentType } from "react";
import { Navigate, NavLink, useParams } from "react-router";

import { useKitchen } from "../../shared/api/kitchen";
import { StationHead } from "../../ui/frame";
import { BalanceRoom } from "./balance-room";
import { HoursRoom } from "./hours-room";
import { MachinesRoom } from "./machines-room";
import { PeopleRoom } from "./people-room";
import { RestrictionsRoom } from "./restrictions-room";
import { ScalesRoom } from "./scales-room";
import { UnitsRoom } from "./units-room";

const ROOMS: { key: string; name: string; Room: ComponentType }[] = [
  { key: "machines", name: "Machines and places", Room: MachinesRoom },
  { key: "hours", name: "The working day", Room: HoursRoom },
  { key: "units", name: "Units and region", Room: UnitsRoom },
  { key: "scales", name: "Scales and losses", Room: ScalesRoom },
  { key: "restrictions", name: "Whom it must suit", Room: RestrictionsRoom },
  { key: "balance", name: "What Balance may bring in", Room: BalanceRoom },
  { key: "people", name: "People", Room: PeopleRoom },
];

/** What holds for everything made in this kitchen, in rooms, each kept by itself. */
export function KitchenPage() {
  const kitchen = useKitchen();
  const chosen = useParams().room;
  const room = ROOMS.find(({ key }) => key === chosen);
  if (!room) return <Navigate to={`/kitchen/${ROOMS[0]!.key}`} replace />;
  const { Room, name } = room;
  return (
    <>
      <StationHead title={kitchen.name} />
      <div className="grid items-start gap-3 px-4 pb-6 md:grid-cols-[15.5rem_minmax(0,1fr)]">
        <div className="grid gap-2">
          <nav aria-label="Rooms of the kitchen" className="panel flex flex-wrap p-1.5 md:grid">
            {ROOMS.map(({ key, name: roomName }) => (
              <NavLink key={key} to={`/kitchen/${key}`} className={({ isActive }) => `rounded-button px-3 py-1.5 ${isActive ? "bg-steel font-semibold" : "text-muted hover:text-ink"}`}>
                {roomName}
              </NavLink>
            ))}
          </nav>
          <a href="/assets/licences.txt" className="justify-self-start px-3 py-1 text-sm text-muted underline">
            Licences of fonts and packages
          </a>
        </div>
        <section aria-labelledby="room" className="panel grid max-w-3xl gap-4 p-5">
          <h2 id="room" className="text-xl">
            {name}
          </h2>
          <Room />
        </section>
      </div>
    </>
  );
}
