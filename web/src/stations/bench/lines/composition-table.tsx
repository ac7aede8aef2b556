import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../../shared/api/client";

import { Button } from "../../../ui/button";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { Waiting } from "../../../ui/waiting";
import { useDraft } from "../bench-context";
import { bodyOf, type Draft, writtenOf } from "../draft/draft";
import { useUnits } from "../../../shared/format/units";

type Table = Schemas["TableOut"];
type Order = { by: number | null; down: boolean };

/** Under what the table of a draft is remembered. */
export function tableKey(draft: Draft): string[] {
  return ["analysis", "table", writtenOf(draft)];
}

/** The mix as a table, for those who think in figures: sorted by any column, copied into a spreadsheet, printed. */
export function CompositionTable({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { draft } = useDraft();
  const table = useQuery({
    queryKey: tableKey(draft),
    queryFn: () => answer(api.POST("/composition-tables", { body: bodyOf(draft) })),
    enabled: open,
  });
  return (
    <SheetDialog open={open} onOpenChange={(now) => !now && onClose()} title={`${draft.name}: the table`} wide>
      <Waiting query={table}>{(found) => (found ? <Sorted table={found} /> : <p>There is nothing in it yet.</p>)}</Waiting>
    </SheetDialog>
  );
}

function Sorted({ table }: { table: Table }) {
  const [order, setOrder] = useState<Order>({ by: null, down: true });
  const [copied, setCopied] = useState("");
  const { by, down } = order;
  const rows = by === null ? table.rows : [...table.rows].sort((one, other) => ((one.cells[by] ?? 0) - (other.cells[by] ?? 0)) * (down ? -1 : 1));

  async function copy() {
    try {
      await navigator.clipboard.writeText(asText(table, rows));
      setCopied("Copied: paste it into a spreadsheet.");
    } catch {
      setCopied("The browser did not let us copy. Select the table and copy it by hand.");
    }
  }

  return (
    <div className="grid gap-3">
      <div className="overflow-x-auto">
        <CellsTable table={table} rows={rows} order={order} sort={(at) => setOrder({ by: at, down: by === at ? !down : true })} />
      </div>
      <p className="text-sm text-muted">
        MSNF is milk solids that are not fat. POD and PAC are what a line adds to the sweetness and the freezing power of 100 g of the mix.
      </p>
      <div className="flex items-center gap-3">
        <Button kind="dark" onClick={() => void copy()}>
          Copy
        </Button>
        <Button onClick={() => window.print()}>Print it with the sheet</Button>
        <span role="status" className="text-sm text-muted">
          {copied}
        </span>
      </div>
    </div>
  );
}

/** The table itself, on the screen with heads that sort, on paper without. */
export function CellsTable({ table, rows, order, sort }: { table: Table; rows: Table["rows"]; order?: Order; sort?: (at: number) => void }) {
  return (
    <table className="w-full text-sm">
      <thead>
        <tr className="border-b border-muted">
          <th scope="col" className="py-1 text-left">
            Line
          </th>
          {table.columns.map((column, at) => (
            <th key={column.key} scope="col" aria-sort={order?.by === at ? (order.down ? "descending" : "ascending") : undefined} className="text-right whitespace-nowrap">
              {sort ? (
                <button type="button" onClick={() => sort(at)} className="min-h-7 pl-2 underline">
                  {head(column)}
                  {order?.by === at ? (order.down ? " ↓" : " ↑") : ""}
                </button>
              ) : (
                head(column)
              )}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <Row key={row.line} row={row} />
        ))}
      </tbody>
      <tfoot className="border-t border-muted font-semibold">
        <Row row={table.total} />
      </tfoot>
    </table>
  );
}

function Row({ row }: { row: Table["total"] }) {
  const units = useUnits();
  return (
    <tr className="border-b border-line">
      <th scope="row" className="py-0.5 text-left font-[inherit]">
        {row.name}
      </th>
      {row.cells.map((cell, at) => (
        <td key={at} className="pl-2 text-right whitespace-nowrap">
          {units.number(cell, 1)}
        </td>
      ))}
    </tr>
  );
}

function head(column: Table["columns"][number]): string {
  return column.unit ? `${column.name}, ${column.unit}` : column.name;
}

/** Cells apart by tabs, as spreadsheets take them; full figures with a point. */
function asText(table: Table, rows: Table["rows"]): string {
  const heads = ["Line", ...table.columns.map(head)];
  const lines = [...rows, table.total].map((row) => [row.name, ...row.cells.map((cell) => String(Math.round(cell * 1e4) / 1e4))]);
  return [heads, ...lines].map((cells) => cells.map((cell) => cell.replace(/[\t\n]/g, " ")).join("\t")).join("\n");
}
