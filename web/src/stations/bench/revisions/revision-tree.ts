import type { Schemas } from "../../../shared/api/client";

/** A revision in the tree: how far it stands in, and where it branches off, if it does. */
export type Branch = { revision: Schemas["RevisionOut"]; depth: number; from: number | null };

/**
 * Revisions in the order of a tree, newest first. What goes straight on stays in line with its parent; only a
 * second and later branch stands further in.
 */
export function treeOf(revisions: Schemas["RevisionOut"][]): Branch[] {
  const known = new Set(revisions.map(({ number }) => number));
  const children = new Map<number | null, Schemas["RevisionOut"][]>();
  for (const revision of [...revisions].sort((one, other) => one.number - other.number)) {
    const parent = revision.parent !== null && known.has(revision.parent) ? revision.parent : null;
    children.set(parent, [...(children.get(parent) ?? []), revision]);
  }
  const placed: Branch[] = [];
  const place = (parent: number | null, depth: number) => {
    (children.get(parent) ?? []).forEach((revision, at) => {
      const aside = at > 0 && parent !== null;
      placed.push({ revision, depth: aside ? depth + 1 : depth, from: aside ? parent : null });
      place(revision.number, aside ? depth + 1 : depth);
    });
  };
  place(null, 0);
  return placed.reverse();
}
