import type { Schemas } from "../../shared/api/client";
import { useUnits } from "../../shared/format/units";

const AT: Record<string, string> = {
  hot: "in the pot",
  yolks: "at the yolks",
  "off-heat": "off the heat",
  cold: "stirred in cold",
  churn: "at the end of the churn",
  beside: "folded in",
};

/** One base for all, and what is weighed into each portion of it. */
export function Split({ split, count }: { split: Schemas["SplitOut"]; count: number }) {
  const units = useUnits();
  const grams = (portion: Schemas["PortionOut"], name: string) => portion.add.find((one) => one.name === name)?.grams ?? 0;
  const every = [...new Set(split.portions.flatMap(({ add }) => add.map(({ name }) => name)))];
  const added = every.filter((name) => new Set(split.portions.map((portion) => Math.round(100 * grams(portion, name)))).size > 1);
  const alike = every.filter((name) => !added.includes(name));
  return (
    <section aria-label="Make once, split late" className="panel grid content-start gap-3 p-4">
      <h2 className="text-lg">Make once, split late</h2>
      <div>
        <b>Common base {units.mass(split.base_g)}</b>
        <p className="text-sm">{split.base.map(({ name, grams: of }) => `${units.mass(of)} ${name}`).join(", ")}</p>
      </div>
      {split.at === null ? (
        <p>Nothing differs: it is one base.</p>
      ) : (
        <>
          <p>
            <b>Split in {count} of {units.mass(split.portions[0]?.base_g ?? 0)}</b>, then {AT[split.at]}
          </p>
          <div className="overflow-x-auto">
            <table className="w-full text-right text-sm">
              <thead className="text-muted">
                <tr>
                  <td />
                  {added.map((name) => (
                    <th key={name} scope="col" className="pl-3 font-normal">
                      {name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {split.portions.map((portion) => (
                  <tr key={portion.key}>
                    <th scope="row" className="text-left">
                      {portion.key}
                    </th>
                    {added.map((name) => (
                      <td key={name} className="pl-3">
                        {units.mass(grams(portion, name))}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {alike.length > 0 && (
            <p className="text-sm">
              Later into each of them: {alike.map((name) => `${units.mass(grams(split.portions[0] as Schemas["PortionOut"], name))} ${name}`).join(", ")}
            </p>
          )}
        </>
      )}
    </section>
  );
}
