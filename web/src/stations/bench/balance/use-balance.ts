import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { answer, api, type Schemas } from "../../../shared/api/client";

export type Question = Omit<Schemas["BalanceQuestion"], "lines" | "style">;

/** Ask for a proposal; a long one is stopped by hand, and the seconds it has taken are told. */
export function useBalance(body: Pick<Schemas["BalanceQuestion"], "lines" | "style">) {
  const stopper = useRef<AbortController>(undefined);
  const [seconds, setSeconds] = useState(0);
  const ask = useMutation({
    mutationFn: (question: Partial<Schemas["BalanceQuestion"]>) => {
      stopper.current = new AbortController();
      const whole = { ...body, ...question } as Schemas["BalanceQuestion"];
      return answer(api.POST("/proposals", { body: whole, signal: stopper.current.signal }));
    },
  });
  useEffect(() => {
    if (!ask.isPending) return;
    setSeconds(0);
    const timer = window.setInterval(() => setSeconds((before) => before + 1), 1000);
    return () => window.clearInterval(timer);
  }, [ask.isPending]);
  function stop() {
    stopper.current?.abort();
    ask.reset();
  }
  return { ask, stop, seconds };
}
