import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, asForm, type Schemas } from "../../../shared/api/client";
import { useKitchen } from "../../../shared/api/kitchen";
import { shelfChanged } from "../../../shared/api/queries";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { FileField } from "../../../ui/file-field";
import { SheetDialog } from "../../../ui/sheet-dialog";

/** A delivery from its list: first what it would bring in, row by row, then all of it at once. */
export function DeliveryDialog({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const send = useMutation({
    mutationFn: ({ chosen, apply }: { chosen: File; apply: boolean }) => answer(api.POST("/deliveries", { params: { query: { apply } }, ...asForm(chosen) })),
    onSuccess: (found) => (found.done ? shelfChanged(client) : undefined),
  });
  const found = send.data;
  return (
    <SheetDialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Delivery list"
      explanation="CSV or XLSX with a first row that names the columns: ingredient and amount, then supplier, lot, use by, best before, price, °C, brix, state, note."
      wide
    >
      <div className="grid gap-4">
        <FileField
          label="The list"
          accept=".csv,.xlsx,text/csv,application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
          choose={(chosen) => {
            setFile(chosen);
            send.reset();
            if (chosen) send.mutate({ chosen, apply: false });
          }}
        />
        {send.error && (
          <p role="alert" className="text-hot">
            {send.error.message}
          </p>
        )}
        {found && <Rows found={found} />}
        {found &&
          (found.done ? (
            <Button kind="dark" onClick={onClose}>
              Good
            </Button>
          ) : (
            <Button kind="hot" disabled={!file || found.wrong > 0 || found.rows.length === 0 || send.isPending} onClick={() => file && send.mutate({ chosen: file, apply: true })}>
              Take all of it in
            </Button>
          ))}
      </div>
    </SheetDialog>
  );
}

function Rows({ found }: { found: Schemas["DeliveryOut"] }) {
  const units = useUnits();
  const { currency } = useKitchen();
  return (
    <>
      <p role="status" className="font-semibold">
        {found.done ? "Taken in: " : ""}
        {found.rows.length - found.wrong} {found.rows.length - found.wrong === 1 ? "lot" : "lots"}
        {found.wrong > 0 && `, ${found.wrong} that cannot be read: set ${found.wrong === 1 ? "it" : "them"} right in the list and choose the list again`}.
      </p>
      <ul className="grid">
        {found.rows.map((row) => (
          <li key={row.row} className={`border-t border-line py-1 ${row.error ? "text-hot" : ""}`}>
            {row.error ? (
              <>
                Row {row.row}, {row.text || "empty"}: {row.error}
              </>
            ) : (
              <>
                <b>{units.mass(row.grams ?? 0)}</b> {row.name}{" "}
                <span className="text-muted">{[row.code && `lot ${row.code}`, row.until && `until ${units.day(row.until)}`, row.price !== null && `${units.number(row.price, 2)} ${currency}`].filter(Boolean).join(", ")}</span>
              </>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
