/** Disjoint sets (union-find with path halving: Tarjan & van Leeuwen, JACM 31, 1984). */
export class Sets {
  private readonly up: number[] = [];

  /** A set of its own. */
  add(item: number): void {
    this.up[item] = item;
  }

  has = (item: number): boolean => this.up[item] !== undefined;

  /** What stands for an item's set. */
  top(item: number): number {
    let t = item;
    while (this.up[t] !== t) {
      this.up[t] = this.up[this.up[t]];
      t = this.up[t];
    }
    return t;
  }

  /** The second's set becomes part of the first's, whose top stays. */
  join(kept: number, other: number): void {
    this.up[this.top(other)] = this.top(kept);
  }
}
