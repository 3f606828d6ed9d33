import { useMemo } from "react";
import type { StudyOut } from "../../api/client";
import { useAreaMap, type AreaMap } from "../look/useAreaMap";

/** A touched place stands for what lies nearest to it, up to this share of the picture's width. */
const AROUND = 0.13;
const WIDE = 420;

/** Which place each pixel belongs to, counted from 1: by the study's zones, or by what lies nearest to its touched places. */
export function useZones(study: StudyOut): AreaMap | null {
  const map = useAreaMap(study.state.areas ?? null);
  const { picture, places } = study;
  return useMemo(() => {
    if (study.state.areas) {
      if (!map) return null;
      const number = new Uint8Array(256);
      places.forEach((p, index) => {
        if (p.area !== null) number[p.area] = index + 1;
      });
      return { ...map, labels: map.labels.map((l) => number[l]!) };
    }
    if (!picture) return null;
    const height = Math.round((WIDE * picture.height) / picture.width);
    const labels = new Uint8Array(WIDE * height);
    const spots = places.flatMap((p, index) =>
      p.x === null || p.y === null
        ? []
        : [{ x: (p.x * WIDE) / picture.width, y: (p.y * WIDE) / picture.width, at: index + 1 }],
    );
    for (let y = 0; y < height; y++)
      for (let x = 0; x < WIDE; x++) {
        let best = (AROUND * WIDE) ** 2;
        for (const s of spots) {
          const away = (s.x - x) ** 2 + (s.y - y) ** 2;
          if (away < best) {
            best = away;
            labels[y * WIDE + x] = s.at;
          }
        }
      }
    return { width: WIDE, height, labels };
  }, [map, picture, places, study.state.areas]);
}
