import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, asForm, type Schemas } from "../../shared/api/client";
import { useWork, type Work } from "../../shared/api/jobs";
import { shelfChanged } from "../../shared/api/queries";
import { Button } from "../../ui/button";
import { FileField } from "../../ui/file-field";
import { Progress } from "../../ui/progress";
import { SheetDialog } from "../../ui/sheet-dialog";

type Sent = { chosen: File; apply: boolean };

const FILES: Work<Sent, Schemas["ImportPreview"]> = {
  ask: ({ chosen, apply }, signal) =>
    answer(api.POST("/ingredient-files", { params: { query: { apply, leave_out_wrong: apply } }, signal, ...asForm(chosen) })),
  look: (id) => answer(api.GET("/ingredient-files/{job_id}", { params: { path: { job_id: id } } })),
  stop: (id) => answer(api.DELETE("/ingredient-files/{job_id}", { params: { path: { job_id: id } } })),
};

/** What scrolls must be reached by keys, or nobody without a mouse sees its end. */
const SCROLLED_BY_KEYS = 0;

/** Ingredients from a file: first what would change, row by row, then the change. */
export function IngredientFile({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <SheetDialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title="Import ingredients"
      explanation="A CSV or JSON file with the columns of “Take all out”. Nothing changes before you have seen what would."
      wide
    >
      <FileForm done={onClose} />
    </SheetDialog>
  );
}

function FileForm({ done }: { done: () => void }) {
  const client = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const send = useWork(FILES, (found) => found.done && void shelfChanged(client));
  const found = send.data;
  return (
    <div className="grid gap-4">
      <FileField
        label="The file"
        accept=".csv,.json,text/csv,application/json"
        choose={(chosen) => {
          setFile(chosen);
          send.reset();
          if (chosen) send.mutate({ chosen, apply: false });
        }}
      />
      {send.isPending && (
        <div className="grid gap-2">
          <p role="status" className="flex items-center gap-3">
            Reading{send.seconds > 0 ? `, ${send.seconds} s` : "…"}
            <Button onClick={send.stop}>Stop</Button>
          </p>
          {send.job && <Progress label="Reading the file" share={send.job.share} />}
        </div>
      )}
      {send.error && (
        <p role="alert" className="text-hot">
          {send.error.message}
        </p>
      )}
      {found && (
        <>
          <p role="status" className="font-semibold">
            {found.done ? "Done: " : ""}
            {found.new} new, {found.changed} changed, {found.same} as they are, {found.wrong} that cannot be read
            {found.done && found.wrong > 0 ? " and were left out" : ""}.
          </p>
          <div role="region" aria-label="What changes, row by row" tabIndex={SCROLLED_BY_KEYS} className="max-h-80 overflow-y-auto">
            <ul className="grid gap-1">
              {found.rows.map((row) => (
                <Row key={row.row} row={row} />
              ))}
            </ul>
          </div>
          {found.done ? (
            <Button kind="dark" onClick={done}>
              Good
            </Button>
          ) : (
            <Button kind="hot" disabled={!file || found.new + found.changed === 0} onClick={() => file && send.mutate({ chosen: file, apply: true })}>
              {found.wrong > 0 ? "Bring in the rows that can be read" : "Bring them in"}
            </Button>
          )}
        </>
      )}
    </div>
  );
}

function Row({ row }: { row: Schemas["RowChange"] }) {
  if (row.what === "wrong") {
    return (
      <li className="text-hot">
        Row {row.row}: {row.error}
      </li>
    );
  }
  return (
    <li>
      Row {row.row}: <b>{row.name}</b> {row.what === "new" ? "is new" : `changes its ${row.fields.join(", ")}`}
    </li>
  );
}
