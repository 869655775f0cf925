/** R, G, B of R, G, B, A. */
export function dropAlpha(data: Uint8ClampedArray): Uint8Array {
  const rgb = new Uint8Array((data.length / 4) * 3);
  for (let point = 0; point < data.length / 4; point += 1)
    for (let side = 0; side < 3; side += 1) rgb[point * 3 + side] = data[point * 4 + side] ?? 0;
  return rgb;
}
