import { MoreVertical } from "lucide-react";
import { memo } from "react";

import { useVocabulary } from "../../../shared/api/vocabulary";
import { Key } from "../../../ui/button";
import { Menu, MenuItem, MenuLine } from "../../../ui/menu";
import type { BenchActions } from "../bench-context";

/** All that can be done with one line. */
export const LineMenu = memo(function LineMenu(props: {
  name: string;
  stage: string | null;
  lineKey: string;
  pinned: boolean;
  actions: BenchActions;
}) {
  const { lineKey: key } = props;
  const { edit, ask, choose } = props.actions;
  const { stages } = useVocabulary();
  return (
    <Menu label={`Change line ${props.name}`} trigger={<MoreVertical size={16} aria-hidden />}>
      <MenuItem onSelect={() => ask({ what: "look", key })}>
        Look closer: note, limits, swap… <Key>Alt L</Key>
      </MenuItem>
      <MenuItem onSelect={() => ask({ what: "replace", key })}>
        Put something else in its place… <Key>Alt R</Key>
      </MenuItem>
      <MenuLine />
      <MenuItem onSelect={() => edit({ kind: "pin", keys: [key] })}>
        {props.pinned ? "Unpin" : "Pin for Balance"} <Key>Alt P</Key>
      </MenuItem>
      <MenuItem onSelect={() => choose(key)}>
        Choose, for several at once <Key>Alt X</Key>
      </MenuItem>
      <MenuItem onSelect={() => edit({ kind: "shift", key, by: -1 })}>
        Move up <Key>Ctrl ↑</Key>
      </MenuItem>
      <MenuItem onSelect={() => edit({ kind: "shift", key, by: 1 })}>
        Move down <Key>Ctrl ↓</Key>
      </MenuItem>
      <MenuLine>Goes in at</MenuLine>
      {stages.map((stage) => (
        <MenuItem key={stage.key} onSelect={() => edit({ kind: "stage", keys: [key], stage: stage.key })}>
          {stage.name}
          <span aria-hidden>{stage.key === props.stage ? "•" : ""}</span>
        </MenuItem>
      ))}
      <MenuLine />
      <MenuItem onSelect={() => edit({ kind: "remove", keys: [key] })}>
        Remove this line <Key>Alt ⌫</Key>
      </MenuItem>
    </Menu>
  );
});
