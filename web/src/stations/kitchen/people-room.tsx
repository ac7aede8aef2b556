import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, faultAt, faultOfAll, type Schemas } from "../../shared/api/client";
import { peopleQuery, sessionQuery } from "../../shared/api/queries";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
import { Field } from "../../ui/field";
import { Waiting } from "../../ui/waiting";

/** Who signs in here: a new person gets a password to begin with, somebody who left is let go. */
export function PeopleRoom() {
  const people = useQuery(peopleQuery);
  const { data: session } = useQuery(sessionQuery);
  const client = useQueryClient();
  const leave = useMutation({
    mutationFn: (id: number) => answer(api.DELETE("/people/{person_id}", { params: { path: { person_id: id } } })),
    onSuccess: () => client.invalidateQueries(peopleQuery),
  });
  const show = useMutation({
    mutationFn: ({ id, sees }: { id: number; sees: boolean }) => answer(api.PATCH("/people/{person_id}", { params: { path: { person_id: id } }, body: { sees_prices: sees } })),
    onSuccess: () => client.invalidateQueries(peopleQuery),
  });
  return (
    <div className="grid gap-4">
      <Waiting query={people}>
        {(all) => (
          <ul className="grid">
            {all.map((person) => (
              <li key={person.id} className="flex min-h-9 items-center gap-3 border-b border-line">
                <b>{person.name}</b>
                {person.name === session?.name ? (
                  <span className="text-sm text-muted">that is you</span>
                ) : (
                  <Checkbox className="ml-auto text-sm" checked={person.sees_prices} onChange={(sees) => show.mutate({ id: person.id, sees })}>
                    sees prices
                  </Checkbox>
                )}
                {person.name !== session?.name && (
                  <button type="button" className="text-sm text-muted underline" aria-label={`${person.name} works here no more`} onClick={() => leave.mutate(person.id)}>
                    works here no more
                  </button>
                )}
              </li>
            ))}
          </ul>
        )}
      </Waiting>
      {(leave.error ?? show.error) && <p role="alert">{(leave.error ?? show.error)?.message}</p>}
      <NewPerson />
    </div>
  );
}

function NewPerson() {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [made, setMade] = useState<Schemas["NewPersonOut"] | null>(null);
  const add = useMutation({
    mutationFn: () => answer(api.POST("/people", { body: { name } })),
    onSuccess: async (person) => {
      setName("");
      setMade(person);
      await client.invalidateQueries(peopleQuery);
    },
  });
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        setMade(null);
        add.mutate();
      }}
    >
      <Field label="Somebody new" value={name} required maxLength={100} placeholder="the name to sign in with" onChange={(event) => setName(event.target.value)} error={faultAt(add.error, "/name") ?? faultOfAll(add.error)} />
      <Button type="submit" kind="dark" className="justify-self-start" disabled={add.isPending || name.trim() === ""}>
        Let them in
      </Button>
      {made && (
        <p role="status">
          {made.name} signs in with <code className="rounded bg-steel px-1.5 py-0.5">{made.password}</code>. It is shown only now: write it down for them.
        </p>
      )}
    </form>
  );
}
