import { type Context, createContext, useContext } from "react";

/** A context, and how to use it: what is drawn without it is a fault of the program and says so. */
export function strictContext<T>(name: string): [Context<T | null>, () => T] {
  const made = createContext<T | null>(null);
  const use = (): T => {
    const value = useContext(made);
    if (value === null) throw new Error(`A screen was drawn without its ${name}.`);
    return value;
  };
  return [made, use];
}
