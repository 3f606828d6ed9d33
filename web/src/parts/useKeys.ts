import { useLayoutEffect, useRef } from "react";

export type Keys = Record<string, (event: KeyboardEvent) => void>;

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));
// Space presses no link: the stage's own link, clicked a moment ago, has the focus still.
const PRESSED: Record<string, string> = {
  " ": "button, summary, [role=button], [role=option]",
  Enter: "button, a, summary, [role=button], [role=option]",
};
const pressing = (target: EventTarget | null, key: string) =>
  PRESSED[key] !== undefined && target instanceof HTMLElement && target.closest(PRESSED[key]) !== null;

/** Keys of a stage, by `event.key`. Never while somebody types; Space and Enter not on what they press. */
export function useKeys(keys: Keys, on = true): void {
  const now = useRef(keys);
  // Before anything is painted: a key pressed at once acts on what now stands there, not on what stood there.
  useLayoutEffect(() => {
    now.current = keys;
  });
  useLayoutEffect(() => {
    if (!on) return;
    const hear = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.altKey || typing(event.target)) return;
      if (document.querySelector(".modal.show")) return;
      const mod = event.ctrlKey || event.metaKey ? "mod+" : "";
      const name = mod + (event.key.length === 1 && mod ? event.key.toLowerCase() : event.key);
      if (pressing(event.target, event.key)) return;
      const act = now.current[event.shiftKey && mod ? `shift+${name}` : name];
      if (act) {
        event.preventDefault();
        act(event);
      }
    };
    window.addEventListener("keydown", hear);
    return () => window.removeEventListener("keydown", hear);
  }, [on]);
}
