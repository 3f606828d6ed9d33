/** How many times closer a step goes; nothing is the whole picture. */
export const CLOSER = 1.4;
export const FURTHER = 1 / CLOSER;
export const WHOLE = 0;

/** Further, whole, closer. */
export function ZoomBar({ by }: { by: (times: number) => void }) {
  return (
    <div className="board-zoom" role="group" aria-label="Zoom">
      <button type="button" onClick={() => by(FURTHER)} aria-label="Further">
        −
      </button>
      <button type="button" onClick={() => by(WHOLE)}>
        Whole
      </button>
      <button type="button" onClick={() => by(CLOSER)} aria-label="Closer">
        +
      </button>
    </div>
  );
}
