interface Entry<Value> {
  readonly value: Value;
  readonly cost: number;
}

/**
 * Results under the keys of what they were made from. What was not asked for longest goes first when room is needed; a
 * result larger than all the room is handed out and not kept.
 */
export class Kept<Value> {
  private readonly entries = new Map<string, Entry<Value>>();
  private used = 0;

  /**
   * @param room for how much there is room, in the unit of `costOf`
   * @param costOf room that a result takes
   */
  constructor(
    private readonly room: number,
    private readonly costOf: (value: Value) => number,
  ) {}

  /** The result of a key; made where it is not kept. What `make` throws is kept by nobody. */
  get(key: string, make: () => Value): Value {
    const found = this.entries.get(key);
    if (found) {
      // A map is in the order of setting: the last one asked for becomes the youngest.
      this.entries.delete(key);
      this.entries.set(key, found);
      return found.value;
    }
    const value = make();
    const cost = this.costOf(value);
    if (cost > this.room) return value;
    for (const [old, entry] of this.entries) {
      if (this.used + cost <= this.room) break;
      this.entries.delete(old);
      this.used -= entry.cost;
    }
    this.entries.set(key, { value, cost });
    this.used += cost;
    return value;
  }

  /** Is there a result under this key? */
  has(key: string): boolean {
    return this.entries.has(key);
  }
}
