import type { Schemas } from "../../shared/api/client";
import { unbroken } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";

type Late = Schemas["LatePress"];

/** What came in from another device after the batch was closed: each counts once somebody says so. */
export function LatePresses({ late, settle }: { late: Late[]; settle: (kind: "accepted" | "declined", key: string) => void }) {
  const units = useUnits();
  if (late.length === 0) return null;
  return (
    <section aria-label="Arrived after closing" className="panel not-on-paper grid gap-2 border-2 border-hot p-4">
      <h2 className="text-xl">Arrived after the batch was closed</h2>
      <p>Noted earlier on another device. It counts only if you accept it.</p>
      <ul className="grid gap-2">
        {late.map((one) => (
          <li key={one.key} className="flex flex-wrap items-center gap-x-4 gap-y-2">
            <p className="mr-auto">
              <b>{unbroken(one.what)}</b>
              <span className="text-muted">
                {" "}
                {one.by ? `${one.by}, ` : ""}
                {units.day(one.at)}, {units.hour(Date.parse(one.at))}
              </span>
            </p>
            <div className="flex gap-2">
              <Button className="min-h-14" aria-label={`Accept ${one.what}`} onClick={() => settle("accepted", one.key)}>
                Accept
              </Button>
              <Button className="min-h-14" aria-label={`Leave out ${one.what}`} onClick={() => settle("declined", one.key)}>
                Leave out
              </Button>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
