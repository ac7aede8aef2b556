import { useMemo } from "react";

import { type Answer, lasting, PlanClock } from "./clock";
import { amountSaid } from "./services";
import type { Plan } from "./use-plan";

/** The last permitted minute, with its day where that is another. */
function latestSaid(clock: PlanClock, start: number, latest: number): string {
  return clock.dayNumber(start) === clock.dayNumber(latest) ? clock.hour(latest) : clock.when(latest);
}

/** The day on paper, a page for each person: what they do when, with a box to tick. */
export function DaySheet({ plan, answer }: { plan: Plan; answer: Answer }) {
  const clock = useMemo(() => new PlanClock(answer), [answer]);
  const people = Object.keys(answer.people).filter((who) => answer.tasks.some((task) => task.who === who));
  return (
    <div className="sheet-only-on-paper">
      {people.map((who) => (
        <section key={who} className="break-after-page last:break-after-auto">
          <h1 className="text-2xl">
            {plan.name}: {who}
          </h1>
          <p>{answer.verdict}</p>
          <p>{plan.services.map((one) => `${amountSaid(one)} ${one.name}`).join(", ")}</p>
          <table className="mt-3 w-full text-left">
            <thead>
              <tr>
                <th scope="col">When</th>
                <th scope="col">What</th>
                <th scope="col">How long</th>
                <th scope="col">At the latest</th>
                <th scope="col">Done</th>
              </tr>
            </thead>
            <tbody>
              {answer.tasks
                .filter((task) => task.who === who)
                .map((task) => (
                  <tr key={task.id} className="border-t border-line">
                    <td className="py-1 whitespace-nowrap">{clock.when(task.start)}</td>
                    <td>{task.title}</td>
                    <td>{lasting(task.end - task.start)}</td>
                    <td>{task.latest !== null && task.latest > task.start ? latestSaid(clock, task.start, task.latest) : ""}</td>
                    <td>☐</td>
                  </tr>
                ))}
            </tbody>
          </table>
        </section>
      ))}
    </div>
  );
}
