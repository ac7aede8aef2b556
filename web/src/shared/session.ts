import { answer, enterKitchen, Offline, Problem, type Schemas, server } from "./api/client";
import { storeFor } from "./device-store";

type Session = Schemas["Session"];

const SESSION = "jalebi.session";

/** Who is signed in; without a connection who was last, so that work goes on. */
export async function askSession(): Promise<Session> {
  try {
    return begin(await answer(server.GET("/session")));
  } catch (error) {
    if (error instanceof Problem) localStorage.removeItem(SESSION);
    const last = error instanceof Offline ? localStorage.getItem(SESSION) : null;
    if (last === null) throw error;
    return begin(JSON.parse(last) as Session);
  }
}

/** Sign in, and work for this person from now on. */
export async function signIn(name: string, password: string): Promise<Session> {
  return begin(await answer(server.POST("/session", { body: { name, password } })));
}

export async function signOut(): Promise<void> {
  await answer(server.DELETE("/session"));
  localStorage.removeItem(SESSION);
}

function begin(session: Session): Session {
  const [kitchen] = session.kitchens;
  if (!kitchen) throw new Error("Whoever signs in works in a kitchen.");
  storeFor({ installation: session.installation, kitchen: kitchen.slug, person: session.person, name: session.name });
  enterKitchen(kitchen.slug);
  localStorage.setItem(SESSION, JSON.stringify(session));
  return session;
}
