import type { OverviewOut } from "../../api/client";
import { Chip } from "../../parts/Swatch";
import { Loading } from "../../parts/Says";

const amount = (v: number) => v.toFixed(2);

/** The complexion in measures: undertone, light half against shadow half, flush against base. */
export function SkinPanel({ overview }: { overview: OverviewOut | undefined }) {
  if (!overview) return <Loading what="Reading the skin" />;
  const c = overview.complexion;
  if (!c)
    return (
      <section>
        <h2>Complexion</h2>
        <p>
          No skin was found by its colour. Touch the face and keep its base, or touch the skin once under
          Zones.
        </p>
      </section>
    );
  return (
    <section aria-label="Complexion">
      <h2>Complexion</h2>
      <div className="tone">
        <div className="panel">
          <span className="tone-swatch" style={{ background: c.base.hex }} />
          <span className="tone-swatch" style={{ background: c.shadow.hex }} />
        </div>
        <div>
          <p className="tone-words">leans {c.undertone}</p>
          <p className="measure">
            base value {c.base.value.toFixed(1)}, shadow {c.shadow.value.toFixed(1)}
          </p>
        </div>
      </div>
      <dl className="measures">
        <div>
          <dt>Hue angle</dt>
          <dd>{c.hue.toFixed(0)}°</dd>
        </div>
        <div>
          <dt>ITA°</dt>
          <dd>
            {c.ita.toFixed(0)}°, class “{c.ita_class}”
          </dd>
        </div>
        <div>
          <dt>Strength</dt>
          <dd>
            C* {c.chroma.toFixed(0)}, {c.strength} for its depth
          </dd>
        </div>
        <div>
          <dt>Shadow half</dt>
          <dd>
            {c.shadow_word === "equal"
              ? "as warm as the light half"
              : `${c.shadow_word} than the light half, by ${Math.abs(c.shadow_degrees).toFixed(0)}° of hue`}
          </dd>
        </div>
        <div>
          <dt>Melanin, blood</dt>
          <dd>
            {amount(c.melanin)}, {amount(c.blood)} <small>relative, one scale for all pictures</small>
          </dd>
        </div>
        <div>
          <dt>Flush</dt>
          <dd>
            {c.flush.length
              ? `${c.flush.length} place${c.flush.length > 1 ? "s" : ""}, the strongest +${amount(c.flush[0]!.strength)} blood`
              : "none that stands out"}
          </dd>
        </div>
      </dl>
      {overview.doubt && (
        <p className="fault">
          <span className="fault-mark" aria-hidden="true">
            ?
          </span>
          {overview.doubt}
        </p>
      )}
      <p className="measure">
        <Chip hex={c.base.hex} size={12} /> Measured where the light falls; a picture’s light and exposure
        colour every number here.
      </p>
    </section>
  );
}
