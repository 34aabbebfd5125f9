import { polygonHull } from "d3-polygon";

/** The outline of a convex body's corners on the paper, as a path. */
export function convexPath<Corner>(corners: readonly Corner[], at: (c: Corner) => [number, number]) {
  const outline = polygonHull(corners.map(at));
  return outline ? `M${outline.map(([x, y]) => `${x.toFixed(2)} ${y.toFixed(2)}`).join("L")}Z` : "";
}
