/** Things that live on the graphics card, by what they were made from. Those not asked for since are put away. */
export class Kept<Thing extends { dispose: () => void }> {
  private readonly things = new Map<string, Thing>();
  private used = new Set<string>();

  get(key: string, make: () => Thing): Thing {
    this.used.add(key);
    let thing = this.things.get(key);
    if (!thing) {
      thing = make();
      this.things.set(key, thing);
    }
    return thing;
  }

  dropUnused(): void {
    for (const [key, thing] of this.things) {
      if (this.used.has(key)) continue;
      thing.dispose();
      this.things.delete(key);
    }
    this.used = new Set();
  }
}
