import { useMutation, useQueryClient } from "@tanstack/react-query";
import { MoreHorizontal } from "lucide-react";
import { useNavigate } from "react-router";

import { answer, api } from "../../shared/api/client";
import { useSeesPrices } from "../../shared/use-sees-prices";
import { Key } from "../../ui/button";
import { Menu, MenuItem, MenuLine } from "../../ui/menu";
import { useBenchActions } from "./bench-context";

/** What else can be done with the whole mix. */
export function MixMenu() {
  const { mix, ask, edit, saveFile } = useBenchActions();
  const navigate = useNavigate();
  const seesPrices = useSeesPrices();
  const client = useQueryClient();
  const archive = useMutation({
    mutationFn: () => answer(api.DELETE("/mixes/{mix_id}", { params: { path: { mix_id: mix.id } } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["mixes"] });
      await navigate("/bench");
    },
  });
  return (
    <Menu label="More about this mix" trigger={<MoreHorizontal size={18} aria-hidden />}>
      <MenuItem onSelect={() => ask({ what: "scale" })}>
        Another size… <Key>S</Key>
      </MenuItem>
      <MenuItem onSelect={() => ask({ what: "run" })}>
        In the machine… <Key>F</Key>
      </MenuItem>
      <MenuItem onSelect={() => ask({ what: "label" })}>Draft of the label…</MenuItem>
      {seesPrices && <MenuItem onSelect={() => ask({ what: "cost" })}>What it costs…</MenuItem>}
      <MenuItem onSelect={() => ask({ what: "ice" })}>Ice and salt…</MenuItem>
      <MenuItem onSelect={() => ask({ what: "pot" })}>Pot and cooling…</MenuItem>
      <MenuItem onSelect={() => ask({ what: "revisions" })}>
        Revisions… <Key>K</Key>
      </MenuItem>
      <MenuItem onSelect={() => ask({ what: "table" })}>
        The table… <Key>T</Key>
      </MenuItem>
      {mix.method.length > 0 && <MenuItem onSelect={() => ask({ what: "method" })}>The recipe’s method…</MenuItem>}
      <MenuItem onSelect={() => void navigate(`/trials/new?mix=${mix.id}`)}>A ladder of it…</MenuItem>
      <MenuItem onSelect={() => ask({ what: "copy" })}>Copy this mix…</MenuItem>
      <MenuItem onSelect={() => saveFile(false)}>Save as a mix file</MenuItem>
      {seesPrices && <MenuItem onSelect={() => saveFile(true)}>Save with its prices</MenuItem>}
      <MenuItem onSelect={() => window.setTimeout(() => window.print())}>
        Print… <Key>Ctrl P</Key>
      </MenuItem>
      <MenuLine />
      <MenuItem onSelect={() => edit({ kind: "undo" })}>
        Undo <Key>Ctrl Z</Key>
      </MenuItem>
      <MenuItem onSelect={() => edit({ kind: "redo" })}>
        Redo <Key>Ctrl ⇧ Z</Key>
      </MenuItem>
      <MenuItem onSelect={() => ask({ what: "keys" })}>
        Keys <Key>?</Key>
      </MenuItem>
      <MenuLine />
      <MenuItem onSelect={() => archive.mutate()}>Put this mix into the archive</MenuItem>
    </Menu>
  );
}
