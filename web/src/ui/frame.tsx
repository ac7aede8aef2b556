import type { ReactNode } from "react";
import { NavLink, useLocation } from "react-router";

import { useKitchen } from "../shared/api/kitchen";
import { Mark } from "./mark";
import { SignOut } from "./sign-out";
import { ZoneQuestion } from "./zone-question";

const STATIONS = [
  { to: "/shelf", name: "Shelf" },
  { to: "/bench", name: "Bench" },
  { to: "/trials", name: "Trials" },
  { to: "/plan", name: "Plan" },
  { to: "/make", name: "Make" },
  { to: "/taste", name: "Taste" },
  { to: "/batches", name: "Batches" },
];

/** A batch at work has the whole screen: what is pressed there with wet hands is big, and nothing else is near. */
const WHOLE_SCREEN = /^\/make\/\d+$/;

const place = (isActive: boolean) =>
  `grid min-h-12 flex-1 place-items-center border-transparent text-center text-xs md:flex-none md:text-sm md:border-l-3 md:py-2 ${
    isActive ? "border-[#ff8a4f] bg-white/10 font-bold text-white" : "hover:text-white"
  }`;

/** The rail of stations, in the order of the work, and beside it the station itself. */
export function Frame({ children }: { children: ReactNode }) {
  const kitchen = useKitchen();
  const { pathname } = useLocation();
  if (WHOLE_SCREEN.test(pathname)) return <main>{children}</main>;
  return (
    <div className="flex min-h-screen flex-col-reverse md:flex-row">
      <nav
        aria-label="Stations"
        className="not-on-paper sticky bottom-0 z-10 flex shrink-0 items-stretch bg-rail text-rail-text md:top-0 md:h-screen md:w-[84px] md:flex-col"
      >
        <span className="hidden place-items-center py-4 md:grid">
          <Mark />
        </span>
        {STATIONS.map((station) => (
          <NavLink key={station.to} to={station.to} className={({ isActive }) => place(isActive)}>
            {station.name}
          </NavLink>
        ))}
        <NavLink to="/kitchen" className={({ isActive }) => `${place(isActive)} px-1 break-words md:mt-auto`} title={`${kitchen.name}: what holds for everything made here`}>
          <span className="max-md:hidden">{kitchen.name}</span>
          <span className="md:hidden">Kitchen</span>
        </NavLink>
        <SignOut />
      </nav>
      <main className="min-w-0 flex-1">
        <ZoneQuestion />
        {children}
      </main>
    </div>
  );
}

/** A station's name with what can be done there. */
export function StationHead({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <header className="flex flex-wrap items-center gap-3 px-4 pt-4 pb-3">
      <h1 className="mr-auto text-2xl">{title}</h1>
      {children}
    </header>
  );
}
