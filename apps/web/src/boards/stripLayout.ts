import type { Board } from '@idle-step/core/floor';

/** The largest scale, and the smallest at which labels can still be read, in px a millimetre. */
const MAX_SCALE = 0.6;
const MIN_SCALE = 0.31;
/** The height that boards may take, in px, and the depth of a usual board, in mm: deeper ones are made smaller alone. */
const HEIGHT_PX = 115;
const USUAL_DEPTH_MM = 264;
const LEFT_PX = 16;
const TOP_PX = 4;

export type StripPlace = {
  readonly left: number;
  readonly top: number;
  /** Px a millimetre; smaller than that of the floor only for a board that is deeper than the strip. */
  readonly scale: number;
  /** Where its name stands without covering a neighbour; `null` where there is no room for it. */
  readonly tag: { readonly left: number; readonly top: number; readonly endsThere: boolean } | null;
};

/** What a name takes up, in px: its height, and the width that it may need. */
const TAG_HEIGHT_PX = 20;
const TAG_PX = 140;

/**
 * Boards as they lie on the floor, in as much of a strip as there is: smaller until all are in, but never so small that
 * labels vanish; then the strip is as wide as it has to be. A deep board is made smaller by itself, and one that lies
 * behind others is brought up into the strip.
 * @param widthPx of the room that there is. @returns a place for each board, and the scale and width of the floor.
 */
export function stripLayout(boards: readonly Outline[], widthPx: number): Strip {
  const asTheyLie = laidOut(boards, widthPx, 0);
  // Where a name finds no room, all boards leave some above them.
  return asTheyLie.places.every((p) => p.tag !== null)
    ? asTheyLie
    : laidOut(boards, widthPx, TAG_HEIGHT_PX + 2);
}

type Outline = Pick<Board, 'xMm' | 'yMm' | 'widthMm' | 'heightMm'>;
type Strip = {
  readonly places: readonly StripPlace[];
  readonly scale: number;
  readonly widthPx: number;
};

/** @param abovePx kept free above the boards. */
function laidOut(boards: readonly Outline[], widthPx: number, abovePx: number): Strip {
  const rightMm = Math.max(1, ...boards.map((b) => b.xMm + b.widthMm));
  const depthMm = Math.min(USUAL_DEPTH_MM, Math.max(1, ...boards.map((b) => b.heightMm)));
  const scale = Math.min(
    MAX_SCALE,
    HEIGHT_PX / depthMm,
    Math.max(MIN_SCALE, (widthPx - 2 * LEFT_PX) / rightMm),
  );
  const boxes = boards.map((b): Box & { scale: number } => {
    const own = Math.min(scale, (HEIGHT_PX - abovePx) / b.heightMm);
    const height = b.heightMm * own;
    return {
      left: LEFT_PX + b.xMm * scale,
      top: TOP_PX + Math.max(abovePx, Math.min(b.yMm * scale, HEIGHT_PX - height)),
      width: b.widthMm * own,
      height,
      scale: own,
    };
  });
  const wholePx = Math.max(widthPx, Math.ceil(rightMm * scale + 2 * LEFT_PX));
  const taken: Box[] = [...boxes];
  const places = boxes.map((box) => {
    const tag = tagRoom(box, wholePx, taken);
    if (tag) taken.push(tag);
    const { left, top, scale: own } = box;
    return {
      left,
      top,
      scale: own,
      tag: tag && { left: tag.left, top: tag.top, endsThere: tag.left < left },
    };
  });
  return { places, scale, widthPx: wholePx };
}

type Box = { readonly left: number; readonly top: number; readonly width: number; readonly height: number };

/** Room for a name above its board, else below it, else beside it: the first where nothing lies. */
function tagRoom(box: Box, widthPx: number, taken: readonly Box[]): Box | null {
  const size = { width: TAG_PX, height: TAG_HEIGHT_PX };
  const low = TOP_PX + HEIGHT_PX - TAG_HEIGHT_PX;
  const candidates: Box[] = [
    { ...size, left: box.left, top: box.top - TAG_HEIGHT_PX - 2 },
    { ...size, left: box.left, top: box.top + box.height + 2 },
    { ...size, left: box.left + box.width + 8, top: low },
    { ...size, left: box.left - 8 - TAG_PX, top: low },
  ];
  return (
    candidates.find(
      (c) =>
        c.top >= 0 &&
        c.top <= low &&
        c.left >= 0 &&
        c.left + c.width <= widthPx &&
        taken.every(
          (t) =>
            t.left >= c.left + c.width ||
            c.left >= t.left + t.width ||
            t.top >= c.top + c.height ||
            c.top >= t.top + t.height,
        ),
    ) ?? null
  );
}
