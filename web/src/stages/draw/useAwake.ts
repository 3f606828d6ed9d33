import { useEffect } from "react";

/** Keep the screen awake. A lock is lost when the page is hidden or the machine sleeps, and is asked for again after. */
export function useAwake(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    let over = false;
    const ask = async () => {
      if (document.visibilityState !== "visible") return;
      const given = await navigator.wakeLock?.request("screen").catch(() => null);
      if (over) void given?.release();
      else lock = given ?? null;
    };
    void ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", ask);
      void lock?.release();
    };
  }, []);
}
