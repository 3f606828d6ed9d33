import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Modal } from "react-bootstrap";
import { client, got, Problem, type Lab, type PaperOut } from "../../api/client";
import { ForGood } from "../../parts/ForGood";
import { Fault } from "../../parts/Says";
import { ToneField } from "../../parts/ToneField";
import { sameTone } from "../../parts/useTone";
import { useUsual } from "../../study/queries";

const WHITE: Lab = { l: 95, a: 0, b: 2 };

const TEETH = [
  ["smooth", "smooth: takes few layers, carries fine drawing"],
  ["vellum", "vellum: a fine tooth, takes many layers"],
  ["textured", "textured: a plain grain"],
  ["sanded", "sanded: takes the most"],
  ["card", "card: hardly any tooth"],
] as const;

/** A paper, to add or to change: its name, tone and tooth. A change is a new version. */
export function PaperForm({
  paper,
  show,
  onHide,
}: {
  paper: PaperOut | null;
  show: boolean;
  onHide: () => void;
}) {
  const cache = useQueryClient();
  const [name, setName] = useState(paper?.name ?? "");
  const [tone, setTone] = useState<Lab | null>(paper?.tone.lab ?? WHITE);
  const [chosen, setChosen] = useState(0);
  const usual = useUsual().data;
  const [tooth, setTooth] = useState<(typeof TEETH)[number][0]>(paper?.tooth ?? "vellum");
  const [problem, setProblem] = useState<Problem | null>(null);
  const done = () => {
    void cache.invalidateQueries({ queryKey: ["rack"] });
    onHide();
  };
  const save = () => {
    if (!tone) return;
    const body = { name: name.trim(), tone, tooth };
    const params = { path: { id: paper?.id ?? "" } };
    got<PaperOut>(
      paper
        ? client.PUT("/api/papers/{id}", { params, body: { ...body, seen: paper.number } })
        : client.POST("/api/papers", { body }),
    )
      .then(done)
      .catch(setProblem);
  };
  const throwAway = () =>
    void got(client.POST("/api/papers/{id}/throw-away", { params: { path: { id: paper?.id ?? "" } } }))
      .then(done)
      .catch(setProblem);
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="paper-title">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title id="paper-title" as="h2">
            {paper?.name ?? "A paper"}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <label className="field">
            Name
            <input value={name} maxLength={80} required onChange={(event) => setName(event.target.value)} />
          </label>
          <label className="field">
            Tooth
            <select value={tooth} onChange={(event) => setTooth(event.target.value as typeof tooth)}>
              {TEETH.map(([slug, words]) => (
                <option key={slug} value={slug}>
                  {words}
                </option>
              ))}
            </select>
          </label>
          <fieldset>
            <legend>Tone of the bare sheet, near enough to begin</legend>
            <div className="panel usual-papers">
              {usual?.papers.map((p) => (
                <button
                  key={p.name}
                  type="button"
                  className="tones-one"
                  aria-pressed={sameTone(tone, p.tone.lab)}
                  onClick={() => {
                    setTone(p.tone.lab);
                    setChosen(chosen + 1);
                  }}
                >
                  <span style={{ background: p.tone.hex }} />
                  <b>{p.name}</b>
                </button>
              ))}
            </div>
          </fieldset>
          <ToneField key={chosen} start={tone ?? undefined} onTone={setTone} label="Or exactly" />
          <Fault problem={problem} />
          {paper && (
            <ForGood label="Throw this paper away" act="Throw it away for good" onDo={throwAway}>
              It goes for good. This cannot be undone.
            </ForGood>
          )}
        </Modal.Body>
        <Modal.Footer>
          <button type="submit" className="act" disabled={!name.trim() || !tone}>
            {paper ? "Save" : "Add this paper"}
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
