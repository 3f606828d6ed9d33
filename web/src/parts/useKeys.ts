import { useLayoutEffect, useRef } from "react";

export type Keys = Record<string, (event: KeyboardEvent) => void>;

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));
const pressing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  target.closest("button, a, summary, [role=button], [role=option]") !== null;

/** Keys of a stage, by `event.key`. Never while somebody types; Space and Enter not on a control. */
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
      if ((event.key === " " || event.key === "Enter") && pressing(event.target)) return;
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
