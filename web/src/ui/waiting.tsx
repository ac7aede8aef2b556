import type { UseQueryResult } from "@tanstack/react-query";
import type { ReactNode } from "react";

import { Button } from "./button";

/** Show what a query brought, or that it is on its way, or why it did not come and how to try again. */
export function Waiting<T>({ query, children }: { query: UseQueryResult<T>; children: (data: T) => ReactNode }) {
  if (query.data !== undefined) return children(query.data);
  if (query.isError) {
    return (
      <div role="alert" className="panel m-4 grid justify-items-start gap-3 p-5">
        <p>{query.error.message}</p>
        <Button onClick={() => void query.refetch()}>Try again</Button>
      </div>
    );
  }
  return <OneMoment />;
}

export function OneMoment() {
  return (
    <p role="status" className="p-6 text-muted">
      One moment…
    </p>
  );
}
