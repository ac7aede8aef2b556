import type { Schemas } from "../../shared/api/client";

/** What is printed: cards to stand under the glasses, and who is served what in which order. */
export function OnPaper({ trial, what }: { trial: Schemas["TrialOut"]; what: "cards" | "order" }) {
  const open = trial.tests.filter(({ closed_at }) => closed_at === null);
  return (
    <div className="hidden print:block">
      <h1 className="text-2xl">{trial.name}</h1>
      {open.length === 0 && <p>No test is open.</p>}
      {open.map((test) =>
        what === "cards" ? (
          <div key={test.id} className="mt-4 grid grid-cols-3 gap-4">
            {test.servings.flatMap(({ number, taster, cups }) =>
              cups.map((code, at) => (
                <div key={`${number} ${at}`} className="break-inside-avoid border border-line p-6 text-center">
                  <p className="text-4xl font-bold">{code}</p>
                  <p className="text-sm">{taster}</p>
                </div>
              )),
            )}
          </div>
        ) : (
          <div key={test.id} className="mt-4">
            <h2 className="text-lg">{test.question}</h2>
            <table className="w-full">
              <tbody>
                {test.servings.map(({ number, taster, cups }) => (
                  <tr key={number} className="break-inside-avoid border-b border-line">
                    <th scope="row" className="py-1 text-left">
                      {taster}
                    </th>
                    <td className="py-1">{cups.join("  ·  ")}</td>
                    <td className="w-1/3" />
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        ),
      )}
      <p className="mt-4">Spoons of 20 to 30 g, all {trial.serve_c === null ? "at their own scooping temperature" : `at ${trial.serve_c} °C`.replace("-", "−")}; water and two minutes between; no talking. Ask for allergies before the first cup.</p>
    </div>
  );
}
