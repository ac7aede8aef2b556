import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { Button } from "../../ui/button";
import { SheetDialog } from "../../ui/sheet-dialog";

type Test = Schemas["TestOut"];

/** A link for each taster, to a page with the own cups alone; each is shown once, renewed and taken back by itself. */
export function GuestLinks({ test, onClose, onChanged }: { test: Test; onClose: () => void; onChanged: () => Promise<void> }) {
  const explanation = "Each taster answers on their own phone, in the house network and without an account. A link is shown once and ends when the test is closed.";
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="Links for guests" explanation={explanation}>
      <ul className="grid gap-3">
        {test.tasters.map((taster) => (
          <GuestLink key={taster} test={test} taster={taster} onChanged={onChanged} />
        ))}
      </ul>
    </SheetDialog>
  );
}

function GuestLink({ test, taster, onChanged }: { test: Test; taster: string; onChanged: () => Promise<void> }) {
  const [link, setLink] = useState<string | null>(null);
  const path = { test_id: test.id };
  const make = useMutation({
    mutationFn: () => answer(api.POST("/trial-tests/{test_id}/sittings", { params: { path }, body: { taster } })),
    onSuccess: (made) => {
      setLink(`${window.location.origin}${made.path}`);
      return onChanged();
    },
  });
  const end = useMutation({
    mutationFn: () => answer(api.DELETE("/trial-tests/{test_id}/sittings/{taster}", { params: { path: { ...path, taster } } })),
    onSuccess: () => {
      setLink(null);
      return onChanged();
    },
  });
  const linked = test.linked.includes(taster);
  const answered = test.servings.every((one) => one.taster !== taster || one.answered);
  return (
    <li className="grid gap-2 border-b border-line pb-3 last:border-0">
      <div className="flex flex-wrap items-center gap-2">
        <p className="mr-auto">
          <b>{taster}</b>
          <span className="text-muted"> {answered ? "has answered" : linked ? "has a link" : ""}</span>
        </p>
        {!answered && (
          <Button aria-label={`${linked ? "New link" : "Make a link"} for ${taster}`} disabled={make.isPending} onClick={() => make.mutate()}>
            {linked ? "New link" : "Make a link"}
          </Button>
        )}
        {linked && (
          <Button aria-label={`End the link of ${taster}`} disabled={end.isPending} onClick={() => end.mutate()}>
            End it
          </Button>
        )}
      </div>
      {link && (
        <div className="flex flex-wrap items-center gap-2">
          <p className="min-w-0 flex-1 rounded-button bg-steel p-3 break-all select-all">{link}</p>
          <Button aria-label={`Copy the link of ${taster}`} onClick={() => void navigator.clipboard?.writeText(link)}>
            Copy
          </Button>
        </div>
      )}
      {[make.error, end.error].map(
        (error) =>
          error && (
            <p key={error.message} role="alert" className="text-hot">
              {error.message}
            </p>
          ),
      )}
    </li>
  );
}
