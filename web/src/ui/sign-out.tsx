import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { listed } from "../shared/format/numbers";
import { forgetLeftBehind, unsentWork } from "../shared/left-behind";
import { signOut } from "../shared/session";
import { Button } from "./button";
import { SheetDialog } from "./sheet-dialog";

/** Signing out: what the browser kept for this person goes with them, after asking where something of it was not sent. */
export function SignOut() {
  const client = useQueryClient();
  const [unsent, setUnsent] = useState("");
  const leave = useMutation({
    mutationFn: (_how: { unsentStays: boolean }) => signOut(),
    onSuccess: (_, how) => {
      forgetLeftBehind(how);
      client.clear();
      window.location.assign("/");
    },
  });

  function stay() {
    setUnsent("");
    leave.reset();
  }

  function begin() {
    const waiting = waitingSaid();
    if (waiting) setUnsent(waiting);
    else leave.mutate({ unsentStays: true });
  }

  return (
    <>
      <button type="button" onClick={begin} className="grid min-h-12 flex-1 place-items-center px-1 text-xs hover:text-white md:mb-2 md:flex-none">
        <span className="underline">Sign out</span>
      </button>
      <SheetDialog
        open={unsent !== ""}
        onOpenChange={stay}
        title={`${unsent} were not sent yet`}
        explanation="They are only in this browser. Stay, and they are sent once there is a connection; or leave them here until you sign in again."
      >
        <div className="flex flex-wrap gap-3">
          <Button kind="dark" onClick={stay}>
            Stay
          </Button>
          <Button onClick={() => leave.mutate({ unsentStays: true })}>Sign out, leave them here</Button>
          <Button onClick={() => leave.mutate({ unsentStays: false })}>Sign out and forget them</Button>
        </div>
        {leave.error && <StillIn error={leave.error} />}
      </SheetDialog>
      <SheetDialog open={unsent === "" && leave.isError} onOpenChange={stay} title="Not signed out">
        {leave.error && <StillIn error={leave.error} />}
      </SheetDialog>
    </>
  );
}

/** What only this browser has, as a sentence begins; empty where that is nothing. */
function waitingSaid(): string {
  const { mixes, presses } = unsentWork();
  const parts = [mixes && (mixes === 1 ? "edits of one mix" : `edits of ${mixes} mixes`), presses && (presses === 1 ? "1 press of a batch" : `${presses} presses of batches`)];
  const said = listed(parts.filter((part): part is string => typeof part === "string"));
  return said.charAt(0).toUpperCase() + said.slice(1);
}

function StillIn({ error }: { error: Error }) {
  return (
    <p role="alert" className="mt-3">
      {error.message} You are still signed in, and nothing was forgotten.
    </p>
  );
}
