import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, server } from "../shared/api/client";
import { forgetLeftBehind, unsentMixes } from "../shared/left-behind";
import { Button } from "./button";
import { SheetDialog } from "./sheet-dialog";

/** Signing out: what the browser kept for this person goes with them, after asking where something of it was not sent. */
export function SignOut() {
  const client = useQueryClient();
  const [unsent, setUnsent] = useState(0);
  const signOut = useMutation({
    mutationFn: () => answer(server.DELETE("/session")),
    onSuccess: () => {
      forgetLeftBehind();
      client.clear();
      window.location.assign("/");
    },
  });

  function stay() {
    setUnsent(0);
    signOut.reset();
  }

  function begin() {
    const waiting = unsentMixes();
    if (waiting > 0) setUnsent(waiting);
    else signOut.mutate();
  }

  return (
    <>
      <button type="button" onClick={begin} className="grid min-h-12 flex-1 place-items-center px-1 text-xs hover:text-white md:mb-2 md:flex-none">
        <span className="underline">Sign out</span>
      </button>
      <SheetDialog
        open={unsent > 0}
        onOpenChange={stay}
        title={unsent === 1 ? "Edits of one mix were not sent yet" : `Edits of ${unsent} mixes were not sent yet`}
        explanation="They are only in this browser. Signing out forgets them; stay, and they are sent as soon as there is a connection."
      >
        <div className="flex gap-3">
          <Button kind="dark" onClick={stay}>
            Stay
          </Button>
          <Button onClick={() => signOut.mutate()}>Sign out and forget them</Button>
        </div>
        {signOut.error && <StillIn error={signOut.error} />}
      </SheetDialog>
      <SheetDialog open={unsent === 0 && signOut.isError} onOpenChange={stay} title="Not signed out">
        {signOut.error && <StillIn error={signOut.error} />}
      </SheetDialog>
    </>
  );
}

function StillIn({ error }: { error: Error }) {
  return (
    <p role="alert" className="mt-3">
      {error.message} You are still signed in, and nothing was forgotten.
    </p>
  );
}
