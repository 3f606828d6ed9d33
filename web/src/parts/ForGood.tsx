import { useState, type ReactNode } from "react";

/** What deletes for good: asked once more before it is done. */
export function ForGood(props: {
  label: string;
  act: string;
  keep?: string;
  children?: ReactNode;
  onDo: () => void;
}) {
  const { label, act, keep = "Keep it", children, onDo } = props;
  const [sure, setSure] = useState(false);
  if (!sure)
    return (
      <div className="tools">
        <button type="button" className="tool" onClick={() => setSure(true)}>
          {label}
        </button>
      </div>
    );
  return (
    <>
      {children && <p>{children}</p>}
      <div className="tools">
        <button
          type="button"
          className="tool"
          onClick={() => {
            setSure(false);
            onDo();
          }}
        >
          {act}
        </button>
        <button type="button" className="tool" onClick={() => setSure(false)}>
          {keep}
        </button>
      </div>
    </>
  );
}
