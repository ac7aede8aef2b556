/**
 * What this browser keeps, each thing under whom it belongs to: installation, kitchen and person. Who signs in next on
 * the same browser finds only their own.
 */
export type Owner = { installation: string; kitchen: string; person: number; name: string };

/** Kinds of things that are kept: answers of the server, edits and presses that it has not, and what a tab remembers. */
export type Kind = "answer" | "unsent" | "press" | "history" | "step" | "tare";

const NAME = "name";
const STORE = "jalebi";

let place = `${STORE}/-/-/`;
let personId = "";

/** Keep everything for this person from now on. */
export function storeFor({ installation, kitchen, person, name }: Owner): void {
  place = `${STORE}/${installation}/${kitchen}/`;
  personId = String(person);
  localStorage.setItem(keyOf(NAME), name);
}

/** Whose things are kept, as a request says it; empty before anybody has signed in. */
export function storedFor(): string {
  return personId;
}

export function keyOf(kind: Kind | typeof NAME, id: string | number = ""): string {
  return `${place}${personId}/${kind}/${id}`;
}

/** The keys of all that is kept of a kind for who is signed in. */
export function keysOf(kind: Kind, storage: Storage = localStorage): string[] {
  return keysFrom(keyOf(kind), storage);
}

/** Who else in this kitchen has presses on this browser that the server has not, and their keys. */
export function pressesOfOthers(): { person: string; name: string; keys: string[] }[] {
  const people = new Set(keysFrom(place, localStorage).map((key) => key.slice(place.length).split("/")[0] ?? ""));
  return [...people]
    .filter((person) => person !== personId)
    .map((person) => ({
      person,
      name: localStorage.getItem(`${place}${person}/${NAME}/`) ?? "",
      keys: keysFrom(`${place}${person}/press/`, localStorage),
    }))
    .filter(({ keys }) => keys.length > 0);
}

/** Make what another person left on this browser the presses of who is signed in. */
export function takeOver(keys: readonly string[]): void {
  for (const key of keys) {
    const press = localStorage.getItem(key);
    if (press !== null) localStorage.setItem(keyOf("press", key.slice(key.lastIndexOf("/") + 1)), press);
    localStorage.removeItem(key);
  }
}

function keysFrom(beginning: string, storage: Storage): string[] {
  return Array.from({ length: storage.length }, (_, at) => storage.key(at) ?? "").filter((key) => key.startsWith(beginning));
}
