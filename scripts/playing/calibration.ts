/** How often a fault that was called so likely was right, by tenths. */
export class Calibration {
  readonly #said = new Map<number, { right: number; all: number }>();

  add(probability: number, isRight: boolean): void {
    const tenth = Math.min(9, Math.floor(probability * 10));
    const row = this.#said.get(tenth) ?? { right: 0, all: 0 };
    this.#said.set(tenth, { right: row.right + (isRight ? 1 : 0), all: row.all + 1 });
  }

  lines(): string[] {
    return [...this.#said]
      .sort(([a], [b]) => b - a)
      .map(
        ([t, r]) =>
          `${t * 10}–${t * 10 + 10} %  said ${String(r.all).padStart(4)}  right ` +
          `${((100 * r.right) / r.all).toFixed(0).padStart(3)} %`,
      );
  }
}
