/** A point of a picture, as shares of its width and height from left and top. */
export interface Place {
  x: number
  y: number
}

/** Where a point of the picture as it is stored stands in the upright one (EXIF orientation, 1 to 8). */
export function upright({ x, y }: Place, orientation: number): Place {
  switch (orientation) {
    case 2:
      return { x: 1 - x, y }
    case 3:
      return { x: 1 - x, y: 1 - y }
    case 4:
      return { x, y: 1 - y }
    case 5:
      return { x: y, y: x }
    case 6:
      return { x: 1 - y, y: x }
    case 7:
      return { x: 1 - y, y: 1 - x }
    case 8:
      return { x: y, y: 1 - x }
    default:
      return { x, y }
  }
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
