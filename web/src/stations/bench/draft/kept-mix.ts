import { answer, api, ifMatch, type Schemas, sendWhileLeaving } from "../../../shared/api/client";
import { bodyOf, type Draft } from "./draft";
import type { KeptMix, OtherWindows } from "./draft-sync";

/** A mix as the kitchen's server keeps it. */
export function mixOnServer(mixId: number): KeptMix {
  const path = { path: { mix_id: mixId } };
  return {
    save: (draft, version) => saveMix(mixId, draft, version),
    load: () => answer(api.GET("/mixes/{mix_id}", { params: path })),
    loadIfOther: async (version) => {
      const asked = api.GET("/mixes/{mix_id}", { params: { ...path, header: { "If-None-Match": `"${version}"` } } });
      return (await asked).response.status === 304 ? null : answer(asked);
    },
    saveWhileLeaving: (draft, version) => sendWhileLeaving(`/mixes/${mixId}`, bodyToSave(draft), version),
  };
}

/** Save a draft whole, as made from a version of the mix. */
export function saveMix(mixId: number, draft: Draft, version: number): Promise<Schemas["Saved"]> {
  return answer(api.PUT("/mixes/{mix_id}", { params: { path: { mix_id: mixId } }, body: bodyToSave(draft), ...ifMatch(version) }));
}

function bodyToSave(draft: Draft): Schemas["DraftToSave"] {
  return { ...bodyOf(draft), name: draft.name, based_on: draft.basedOn ?? null };
}

/** Other windows of this browser on a mix, by its own channel. */
export function windowsOn(mixId: number): OtherWindows {
  const name = `jalebi.mix.${mixId}`;
  return {
    tell: (version) => {
      const channel = new BroadcastChannel(name);
      channel.postMessage(version);
      channel.close();
    },
    hear: (heard) => {
      const channel = new BroadcastChannel(name);
      channel.onmessage = (event: MessageEvent<number>) => heard(event.data);
      return () => channel.close();
    },
  };
}
