import { useState } from "react";
import { useStudy } from "../study/useStudy";
import type { RailMark } from "./marks";
import { useSettings } from "./settings";
import { railValue, railY } from "./scale";
import { useSize } from "./useSize";

interface Props {
  marks: RailMark[];
  selected?: string | null;
  onSelect?: (id: string) => void;
  histogram?: number[];
  /** Steps of value with the share of each, in place of the histogram. */
  shares?: { value: number | null; share: number }[];
  /** Hears every value touched. */
  onValue?: (value: number) => void;
  /** A value marked across the rail. */
  band?: number | null;
  /** Picture values and where they are shown, joined by lines. */
  range?: { from: number[]; to: number[] } | null;
}

const MARK = 15;

/** The value rail: always at one place and one scale. Touch it to read a value; touch the value again to pin it. */
export function ValueRail({ marks, selected, onSelect, histogram, shares, onValue, band, range }: Props) {
  const [hold, { width, height }] = useSize<HTMLElement>();
  const [read, setRead] = useState<{ value: number; pinned: boolean } | null>(null);
  const { countDown } = useSettings();
  const { study } = useStudy();
  const most = Math.max(...(histogram ?? [1]), 1e-6);
  const named = (value: number) => (countDown ? 11 - value : value);
  return (
    <section className="rail" ref={hold} aria-label="Value rail">
      {height > 0 && (
        <svg
          width={width}
          height={height}
          role="group"
          aria-label="Values from 10, lightest, to 1, darkest"
          onClick={(event) => {
            const y = event.clientY - event.currentTarget.getBoundingClientRect().top;
            const value = railValue(y, height);
            onValue?.(value);
            setRead((now) =>
              now && Math.abs(now.value - value) < 0.25
                ? now.pinned
                  ? null
                  : { ...now, pinned: true }
                : { value, pinned: false },
            );
          }}
        >
          {histogram?.map((share, index) => {
            const from = railY(((index + 1) * 10) / histogram.length, height);
            const to = railY((index * 10) / histogram.length, height);
            return (
              <rect
                key={index}
                x={0}
                y={from}
                width={Math.sqrt(share / most) * (width - 42)}
                height={Math.max(0.5, to - from - 0.4)}
                className="rail-bar"
              />
            );
          })}
          {shares?.map((step) => {
            const high = (railY(0, height) - railY(10, height)) / shares.length;
            const middle = railY(step.value ?? 0, height);
            return (
              <g key={step.value}>
                <rect
                  x={0}
                  y={middle - high / 2 + 1}
                  width={Math.max(1, Math.sqrt(step.share) * (width - 42))}
                  height={high - 2}
                  className="rail-bar"
                />
                <text x={3} y={middle} dy="0.34em" className="rail-share">
                  {Math.round(step.share * 100)} %
                </text>
              </g>
            );
          })}
          {band !== null && band !== undefined && (
            <line x1={0} x2={width} y1={railY(band, height)} y2={railY(band, height)} className="rail-band" />
          )}
          <line
            x1={width - 32}
            x2={width - 32}
            y1={railY(10, height)}
            y2={railY(0, height)}
            className="rail-line"
          />
          {Array.from({ length: 10 }, (_, i) => i + 1).map((value) => (
            <g key={value} transform={`translate(0 ${railY(value, height)})`}>
              <line x1={width - 36} x2={width - 28} className="rail-line" />
              <text x={width - 18} dy="0.34em" className="rail-number">
                {named(value)}
              </text>
            </g>
          ))}
          {range?.from.map((from, index) => (
            <line
              key={index}
              x1={4}
              x2={width - 36}
              y1={railY(from, height)}
              y2={railY(range.to[index]!, height)}
              className="rail-range"
            />
          ))}
          <path
            d={`M ${width - 27} ${railY(study.range.lightest_shown, height)} h 4 V ${railY(study.range.darkest_shown, height)} h -4`}
            className="rail-reach"
          >
            <title>What this kit reaches on this paper</title>
          </path>
          {marks.map((mark) => (
            <g
              key={mark.id}
              transform={`translate(${width - 32 - MARK / 2} ${railY(mark.value, height) - MARK / 2})`}
              className={mark.id === selected ? "rail-mark is-selected" : "rail-mark"}
              onClick={(event) => {
                event.stopPropagation();
                onSelect?.(mark.id);
              }}
            >
              <rect width={MARK} height={MARK} style={{ fill: mark.hex }} />
              <title>{mark.label}</title>
            </g>
          ))}
          {read && (
            <g transform={`translate(0 ${railY(read.value, height)})`} className="rail-read">
              <line x1={0} x2={width - 28} />
              <rect x={0} y={-12} width={36} height={24} />
              <text x={18} dy="0.34em">
                {named(read.value).toFixed(1)}
              </text>
            </g>
          )}
        </svg>
      )}
      <span className="visually-hidden" aria-live="polite">
        {read ? `Value ${named(read.value).toFixed(1)}${read.pinned ? ", pinned" : ""}` : ""}
      </span>
    </section>
  );
}
