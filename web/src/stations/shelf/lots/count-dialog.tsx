import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { shelfChanged } from "../../../shared/api/queries";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { inputClass } from "../../../ui/field";
import { SheetDialog } from "../../../ui/sheet-dialog";

type Lot = Schemas["LotOut"];

/** Taking stock: every lot with room for what is really there; only what is filled in is noted. */
export function CountDialog({ lots, onClose }: { lots: Lot[]; onClose: () => void }) {
  const client = useQueryClient();
  const units = useUnits();
  const [counted, setCounted] = useState<Record<number, string>>({});
  const [noted, setNoted] = useState<number[]>([]);
  const count = useMutation({
    mutationFn: async () => {
      for (const [id, typed] of Object.entries(counted)) {
        if (!typed.trim() || noted.includes(Number(id))) continue;
        await answer(api.POST("/lots/{lot_id}/movements", { params: { path: { lot_id: Number(id) } }, body: { kind: "counted", typed, why: "stock-taking" } }));
        setNoted((done) => [...done, Number(id)]);
      }
    },
    onSuccess: onClose,
    onSettled: () => shelfChanged(client),
  });
  const filled = Object.values(counted).filter((typed) => typed.trim()).length;
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="Take stock" explanation="Write what is there beside what should be; what you leave empty stays as it is." wide>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          count.mutate();
        }}
      >
        <table className="w-full">
          <thead className="text-left text-sm text-muted">
            <tr>
              <th className="font-normal">Lot</th>
              <th className="text-right font-normal">should be</th>
              <th className="w-32 pl-3 font-normal">there is</th>
            </tr>
          </thead>
          <tbody>
            {lots.map((lot) => (
              <tr key={lot.id} className="border-t border-line">
                <th scope="row" className="py-1 text-left font-normal">
                  {lot.name} <span className="text-sm text-muted">{[lot.code, lot.supplier].filter(Boolean).join(", ")}</span>
                </th>
                <td className="text-right">{units.mass(lot.grams)}</td>
                <td className="pl-3">
                  <input
                    className={inputClass}
                    aria-label={`${lot.name}${lot.code ? `, ${lot.code}` : ""}: there is`}
                    maxLength={60}
                    disabled={noted.includes(lot.id)}
                    value={counted[lot.id] ?? ""}
                    onChange={(event) => setCounted({ ...counted, [lot.id]: event.target.value })}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {count.error && (
          <p role="alert" className="text-hot">
            {count.error.message}
          </p>
        )}
        <Button type="submit" kind="dark" disabled={filled === 0 || count.isPending}>
          {filled < 2 ? "Note the count" : `Note ${filled} counts`}
        </Button>
      </form>
    </SheetDialog>
  );
}
