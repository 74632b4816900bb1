/** A number as people write it: four digits, no exponent. */
export function plain(value: number): string {
  return String(Number(value.toPrecision(4)));
}
