/** Zoom and pan of the picture: screen = picture × scale + offset. */
export interface View {
  scale: number;
  x: number;
  y: number;
}

export const fitted = (w: number, h: number, width: number, height: number): View => {
  const scale = Math.min(width / w, height / h);
  return { scale, x: (width - w * scale) / 2, y: (height - h * scale) / 2 };
};

export const zoomed = (view: View, by: number, atX: number, atY: number, least: number): View => {
  const scale = Math.min(16, Math.max(least, view.scale * by));
  const ratio = scale / view.scale;
  return { scale, x: atX - (atX - view.x) * ratio, y: atY - (atY - view.y) * ratio };
};
