/** Sets of shapes under numbers; what is in one of two sets, but not in both, is looked up rather than worked out again. */
export class XorSets {
  readonly #members: (readonly number[])[] = [[]];
  readonly #numbers = new Map<string, number>([['', 0]]);
  readonly #known = new Map<number, number>();

  /** The shapes of a set, in rising order; set 0 has none. */
  members(set: number): readonly number[] {
    return this.#members[set] as readonly number[];
  }

  get count(): number {
    return this.#members.length;
  }

  only(shape: number): number {
    return this.#numberOf([shape]);
  }

  xor(one: number, other: number): number {
    if (one === 0) return other;
    if (other === 0) return one;
    const key = Math.min(one, other) * 2 ** 24 + Math.max(one, other);
    const known = this.#known.get(key);
    if (known !== undefined) return known;
    const [a, b] = [this.members(one), this.members(other)];
    const both = [
      ...a.filter((shape) => !b.includes(shape)),
      ...b.filter((shape) => !a.includes(shape)),
    ].sort((p, q) => p - q);
    const set = this.#numberOf(both);
    this.#known.set(key, set);
    return set;
  }

  #numberOf(members: readonly number[]): number {
    const key = members.join(' ');
    const known = this.#numbers.get(key);
    if (known !== undefined) return known;
    const set = this.#members.length;
    this.#numbers.set(key, set);
    this.#members.push(members);
    return set;
  }
}
