import { useMutation } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

import { Offline, problemOf, type Schemas } from "./client";

/** What takes longer than a moment, as the server tells it. */
export type Job<Found> = {
  id: number;
  state: string;
  share: number;
  best: Found | null;
  answer: Found | null;
  problem: Schemas["Problem"] | null;
};

/** How something is asked that may become a job, and how that is looked at and stopped. */
export type Work<Asked, Found> = {
  ask: (asked: Asked, signal: AbortSignal) => Promise<Found | Job<Found>>;
  look: (id: number) => Promise<Job<Found>>;
  stop: (id: number) => Promise<Job<Found>>;
};

const LOOK_MS = 200;

/** Somebody ended it before there was anything to show. */
class Stopped extends Error {
  constructor() {
    super("This was stopped.");
  }
}

function wasStopped(error: unknown): boolean {
  return error instanceof Stopped || (error instanceof DOMException && error.name === "AbortError");
}

function isJob<Found extends object>(found: Found | Job<Found>): found is Job<Found> {
  return "share" in found && "state" in found;
}

/** Ask for something that may become a job: how far it is, the best so far, and how to stop it with that. */
export function useWork<Asked, Found extends object>(work: Work<Asked, Found>, done: (found: Found) => void) {
  const asking = useRef<AbortController>(undefined);
  const [job, setJob] = useState<Job<Found> | null>(null);
  const { stop: stopOnServer } = work;
  const asked = useMutation({
    mutationFn: async (question: Asked) => {
      const { signal } = (asking.current = new AbortController());
      setJob(null);
      const found = await work.ask(question, signal);
      return isJob(found) ? follow(found, work.look, setJob, signal) : found;
    },
    onSuccess: done,
    onSettled: () => setJob(null),
  });
  const { reset: forget, isPending, submittedAt } = asked;
  const running = useRef<Job<Found> | null>(null);
  useEffect(() => {
    running.current = job;
  }, [job]);

  /** End it; the best so far is shown where there is any. */
  const stop = useCallback(() => {
    if (running.current) void stopOnServer(running.current.id).catch(() => undefined); // following it shows whether it has ended
    else asking.current?.abort();
  }, [stopOnServer]);

  /** End it, and forget what it has come to. */
  const reset = useCallback(() => {
    if (running.current) void stopOnServer(running.current.id).catch(() => undefined);
    asking.current?.abort();
    setJob(null);
    forget();
  }, [stopOnServer, forget]);

  const error = wasStopped(asked.error) ? null : asked.error;
  return { ...asked, error, job, stop, reset, seconds: useSecondsSince(submittedAt, isPending) };
}

/** Look at a job until it has ended; while nobody answers it is looked at again. */
async function follow<Found>(
  begun: Job<Found>,
  look: (id: number) => Promise<Job<Found>>,
  tell: (job: Job<Found>) => void,
  signal: AbortSignal,
): Promise<Found> {
  let job = begun;
  while (job.state === "waiting" || job.state === "running") {
    tell(job);
    await new Promise((resolve) => window.setTimeout(resolve, LOOK_MS));
    signal.throwIfAborted();
    job = await look(job.id).catch((error: unknown) => {
      if (error instanceof Offline) return job;
      throw error;
    });
  }
  if (job.problem) throw problemOf(job.problem.status, job.problem);
  const found = job.answer ?? job.best;
  if (found === null) throw new Stopped();
  return found;
}

function useSecondsSince(begun: number, counting: boolean): number {
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (!counting) return;
    const timer = window.setInterval(() => setNow(Date.now()), 1000);
    return () => window.clearInterval(timer);
  }, [counting]);
  return Math.max(0, Math.round((now - begun) / 1000));
}
