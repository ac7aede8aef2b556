import { MoreVertical } from "lucide-react";
import { memo } from "react";

import type { Schemas } from "../../../shared/api/client";
import { Key } from "../../../ui/button";
import { Menu, MenuItem, MenuLine } from "../../../ui/menu";
import type { Edit } from "../draft/draft";

/** Open what looks closer at a line, or what puts another ingredient in its place. */
export type OpenLineDialog = (what: "look" | "replace", key: string) => void;

/** All that can be done with one line. */
export const LineMenu = memo(function LineMenu(props: {
  name: string;
  stage: string | null;
  stages: Schemas["Named"][];
  lineKey: string;
  pinned: boolean;
  edit: (edit: Edit) => void;
  ask: OpenLineDialog;
  choose: (key: string) => void;
}) {
  const { lineKey: key, edit, ask } = props;
  return (
    <Menu label={`Change line ${props.name}`} trigger={<MoreVertical size={16} aria-hidden />}>
      <MenuItem onSelect={() => ask("look", key)}>
        Look closer: note, limits, swap… <Key>Alt L</Key>
      </MenuItem>
      <MenuItem onSelect={() => ask("replace", key)}>
        Put something else in its place… <Key>Alt R</Key>
      </MenuItem>
      <MenuLine />
      <MenuItem onSelect={() => edit({ kind: "pin", keys: [key] })}>
        {props.pinned ? "Unpin" : "Pin for Balance"} <Key>Alt P</Key>
      </MenuItem>
      <MenuItem onSelect={() => props.choose(key)}>
        Choose, for several at once <Key>Alt X</Key>
      </MenuItem>
      <MenuItem onSelect={() => edit({ kind: "shift", key, by: -1 })}>
        Move up <Key>Ctrl ↑</Key>
      </MenuItem>
      <MenuItem onSelect={() => edit({ kind: "shift", key, by: 1 })}>
        Move down <Key>Ctrl ↓</Key>
      </MenuItem>
      <MenuLine>Goes in at</MenuLine>
      {props.stages.map((stage) => (
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
