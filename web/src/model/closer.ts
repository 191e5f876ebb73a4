/** A point of a picture, as shares of its width and height from left and top. */
export interface Place {
  x: number
  y: number
}

/** The place nearest to one at which a window of this size lies within the picture; the middle of what is smaller. */
export function within(place: Place, picture: { width: number; height: number }, window: typeof picture): Place {
  const inside = (at: number, length: number, seen: number) =>
    length <= seen ? 0.5 : Math.min(1 - seen / 2 / length, Math.max(seen / 2 / length, at))
  return { x: inside(place.x, picture.width, window.width), y: inside(place.y, picture.height, window.height) }
}

/** Which point of a picture lies at a point of the box that it is fitted into; null beside it. */
export function pointed(
  at: { x: number; y: number },
  picture: { width: number; height: number },
  box: typeof picture,
): Place | null {
  const scale = Math.min(box.width / picture.width, box.height / picture.height)
  const x = (at.x - (box.width - picture.width * scale) / 2) / (picture.width * scale)
  const y = (at.y - (box.height - picture.height * scale) / 2) / (picture.height * scale)
  return x >= 0 && x <= 1 && y >= 0 && y <= 1 ? { x, y } : null
}
