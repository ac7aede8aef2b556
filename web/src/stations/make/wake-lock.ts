import { useEffect, useState } from "react";

/** Keep the screen awake while this page is seen; says so where the browser cannot. */
export function useWakeLock(): boolean {
  const can = "wakeLock" in navigator;
  const [held, setHeld] = useState(can);
  useEffect(() => {
    if (!can) return;
    let lock: WakeLockSentinel | null = null;
    const hold = () => {
      if (document.visibilityState !== "visible") return;
      navigator.wakeLock.request("screen").then(
        (taken) => {
          lock = taken;
          setHeld(true);
        },
        () => setHeld(false),
      );
    };
    hold();
    document.addEventListener("visibilitychange", hold);
    return () => {
      document.removeEventListener("visibilitychange", hold);
      void lock?.release();
    };
  }, [can]);
  return held;
}
