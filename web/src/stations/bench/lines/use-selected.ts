import { type MouseEvent, useLayoutEffect, useRef } from "react";

/**
 * Select all of a field when it is reached, before the next key can be typed into it: one that comes after it
 * would be typed over. A press puts its caret down after the focus, so what is pressed is selected on its release.
 */
export function useSelected(focused: boolean) {
  const field = useRef<HTMLInputElement>(null);
  const pressed = useRef(false);
  useLayoutEffect(() => {
    if (focused) field.current?.select();
  }, [focused]);
  return {
    ref: field,
    onPointerDown: () => {
      pressed.current = !focused;
    },
    onClick: ({ currentTarget }: MouseEvent<HTMLInputElement>) => {
      if (pressed.current && currentTarget.selectionStart === currentTarget.selectionEnd) currentTarget.select();
    },
  };
}
