import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";

import { sessionQuery } from "../../shared/api/queries";
import { signIn } from "../../shared/session";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Mark } from "../../ui/mark";

/** The door. */
export function SignIn() {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const enter = useMutation({
    mutationFn: () => signIn(name.trim(), password),
    onSuccess: (session) => client.setQueryData(sessionQuery.queryKey, session),
  });

  function submit(event: FormEvent) {
    event.preventDefault();
    enter.mutate();
  }

  return (
    <main className="grid min-h-screen place-items-center bg-rail p-4">
      <form onSubmit={submit} className="panel grid w-full max-w-sm gap-4 p-7">
        <div className="flex items-center gap-3">
          <span className="rounded-panel bg-rail p-2">
            <Mark size={30} />
          </span>
          <h1 className="text-3xl">Jalebi</h1>
        </div>
        <p className="text-muted">From what goes in to how it scoops.</p>
        <Field label="Name" name="name" autoComplete="username" required value={name} onChange={(event) => setName(event.target.value)} autoFocus />
        <Field
          label="Password"
          name="password"
          type="password"
          autoComplete="current-password"
          required
          value={password}
          onChange={(event) => setPassword(event.target.value)}
          error={enter.error?.message}
        />
        <Button type="submit" kind="hot" disabled={enter.isPending}>
          Sign in
        </Button>
      </form>
    </main>
  );
}
