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
const pressed = (target: EventTarget | null, key: string) =>
  PRESSED[key] !== undefined && target instanceof Element ? target.closest(PRESSED[key]) : null;

/**
 * Keys of a stage, by `event.key`. Never while somebody types; Space and Enter not on what they press. What was touched or
 * clicked last has the focus still, but who then strikes a key means the stage.
 */
export function useKeys(keys: Keys, on = true): void {
  const now = useRef(keys);
  const touched = useRef<Element | null>(null);
  // Before anything is painted: a key pressed at once acts on what now stands there, not on what stood there.
  useLayoutEffect(() => {
    now.current = keys;
  });
  useLayoutEffect(() => {
    if (!on) return;
    const touch = (event: PointerEvent) => {
      touched.current = pressed(event.target, "Enter");
    };
    const hear = (event: KeyboardEvent) => {
      if (event.key === "Tab") touched.current = null;
      if (event.defaultPrevented || event.altKey || typing(event.target)) return;
      if (document.querySelector(".modal.show")) return;
      const mod = event.ctrlKey || event.metaKey ? "mod+" : "";
      const name = mod + (event.key.length === 1 && mod ? event.key.toLowerCase() : event.key);
      const there = pressed(event.target, event.key);
      if (there && there !== touched.current) return;
      const act = now.current[event.shiftKey && mod ? `shift+${name}` : name];
      if (act) {
        event.preventDefault();
        act(event);
      }
    };
    window.addEventListener("pointerdown", touch, true);
    window.addEventListener("keydown", hear);
    return () => {
      window.removeEventListener("pointerdown", touch, true);
      window.removeEventListener("keydown", hear);
    };
  }, [on]);
}
