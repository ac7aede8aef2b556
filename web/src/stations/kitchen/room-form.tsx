import type { UseMutationResult } from "@tanstack/react-query";
import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";

import { faultAt, faultOfAll, type Schemas } from "../../shared/api/client";
import { shelfChanged } from "../../shared/api/queries";
import { useKitchenSettings } from "../../shared/api/use-kitchen-settings";
import { Button } from "../../ui/button";

type Changes = Schemas["KitchenSettings"];

/** Keeping a room: only what was changed in it is sent, and what the server refuses is said at its field. */
export function useRoom() {
  const client = useQueryClient();
  const [kept, setKept] = useState(false);
  const settings = useKitchenSettings(async () => {
    setKept(true);
    await shelfChanged(client);
  });
  return {
    settings,
    kept: kept && !settings.isPending && !settings.isError,
    keep: (changes: Changes) => {
      setKept(false);
      settings.mutate(changes);
    },
    fault: (field: keyof Changes) => faultAt(settings.error, `/${field}`),
  };
}

type Props = {
  children: ReactNode;
  settings: UseMutationResult<Schemas["KitchenOut"], Error, Changes>;
  kept: boolean;
  /** Whether something in it cannot be read yet. */
  unreadable?: boolean;
  keep: () => void;
};

/** The form of a room with its button, and below it whether it is kept or why not. */
export function RoomForm({ children, settings, kept, unreadable = false, keep }: Props) {
  const refused = faultOfAll(settings.error);
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (!unreadable) keep();
      }}
    >
      {children}
      <div className="flex items-center gap-3">
        <Button type="submit" kind="dark" disabled={settings.isPending || unreadable}>
          Keep this
        </Button>
        <span role="status" className="text-sm text-muted">
          {kept ? "Kept." : ""}
        </span>
      </div>
      {refused && (
        <p role="alert" className="text-hot">
          {refused}
        </p>
      )}
    </form>
  );
}

/** What is wrong with a number that cannot be read at all; what it may be says the server. */
export function unread(typed: string, value: number | null): string | undefined {
  return value === null ? (typed.trim() === "" ? "A number is wanted." : `“${typed}” is not a number.`) : undefined;
}
