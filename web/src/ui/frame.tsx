import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { NavLink } from "react-router";

import { answer, server } from "../shared/api/client";
import { useKitchen } from "../shared/api/kitchen";
import { Mark } from "./mark";

const STATIONS = [
  { to: "/shelf", name: "Shelf" },
  { to: "/bench", name: "Bench" },
  { to: "/batches", name: "Batches" },
];

/** The rail of stations, in the order of the work, and beside it the station itself. */
export function Frame({ children }: { children: ReactNode }) {
  const kitchen = useKitchen();
  const client = useQueryClient();
  const signOut = useMutation({
    mutationFn: () => answer(server.DELETE("/session")),
    onSettled: () => {
      client.clear();
      window.location.assign("/");
    },
  });
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
          <NavLink
            key={station.to}
            to={station.to}
            className={({ isActive }) =>
              `grid min-h-12 flex-1 place-items-center border-transparent text-sm md:flex-none md:border-l-3 md:py-2 ${
                isActive ? "border-[#ff8a4f] bg-white/10 font-bold text-white" : "hover:text-white"
              }`
            }
          >
            {station.name}
          </NavLink>
        ))}
        <button
          type="button"
          onClick={() => signOut.mutate()}
          className="grid min-h-12 flex-1 place-items-center px-1 text-xs hover:text-white md:mt-auto md:mb-2 md:flex-none"
        >
          <span className="hidden text-center md:block">
            {kitchen.name}
            <br />
          </span>
          <span className="underline">Sign out</span>
        </button>
      </nav>
      <main className="min-w-0 flex-1">{children}</main>
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
