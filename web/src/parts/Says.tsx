import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Problem } from "../api/client";
import { sentence } from "./words";

/** A fault, in words, beside the thing: a word with a mark, never a colour. */
export function Fault({ problem, children }: { problem?: Problem | null; children?: ReactNode }) {
  if (!problem && !children) return null;
  return (
    <p className="fault" role="alert">
      <span aria-hidden="true" className="fault-mark">
        !
      </span>
      {problem ? sentence(problem.message) : children}
    </p>
  );
}

/** An empty state: one sentence, one action. */
export function Empty({ children, action }: { children: ReactNode; action?: ReactNode }) {
  return (
    <div className="empty">
      <p>{children}</p>
      {action}
    </div>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p className="loading" role="status">
      {what}…
    </p>
  );
}

/** A whole page while something is opened, or when it cannot be: what, why, and the way back. */
export function Opening({ what, problem }: { what: string; problem?: Problem | null }) {
  return (
    <main className="page-narrow">
      {problem ? (
        <>
          <h1>The {what} cannot be opened</h1>
          <Fault problem={problem} />
          <Link to="/" className="act">
            To the shelf
          </Link>
        </>
      ) : (
        <Loading what={`Opening the ${what}`} />
      )}
    </main>
  );
}
