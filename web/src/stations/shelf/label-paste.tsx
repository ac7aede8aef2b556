import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api } from "../../shared/api/client";
import { inputClass } from "../../ui/field";

/** A label as text, “Energy 1540 kJ, Fat 9.1 g …”: its figures go into the fields below while it is typed. */
export function LabelPaste({ fill }: { fill: (figures: Record<string, string>) => void }) {
  const [text, setText] = useState("");
  const read = useQuery({
    queryKey: ["label", text],
    queryFn: async () => {
      const { figures } = await answer(api.POST("/label-readings", { body: { text } }));
      fill(Object.fromEntries(Object.entries(figures).map(([key, value]) => [key, String(value)])));
      return Object.keys(figures).length;
    },
    enabled: text.trim() !== "",
    retry: false,
    staleTime: Infinity,
  });
  return (
    <label className="grid gap-1">
      <span className="font-semibold">Its label as text, if you have it</span>
      <textarea value={text} rows={2} maxLength={4000} placeholder="Energy 1540 kJ, Fat 9.1 g, of which saturates …" onChange={(event) => setText(event.target.value)} className={inputClass} />
      <span role="status" className="text-sm text-muted">
        {read.data === undefined ? "" : read.data === 0 ? "No figure is named in it." : `${read.data} figures read; look them over below.`}
      </span>
    </label>
  );
}
