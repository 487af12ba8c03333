import { headers } from "./client";

const DATABASE = "windsock-blocks";
const LIMIT_IN_MEMORY = 384 * 2 ** 20;
const LIMIT_KEPT = 512 * 2 ** 20;
const SENT_AT_ONCE = 1500;

type Kept = { hash: string; bytes: ArrayBuffer };
type Size = { hash: string; size: number; used: number };

/**
 * Blocks by hash: in memory, and beneath it in the browser's own database, so that what came yesterday is not sent
 * again. Both have a limit of bytes; what was not used for longest goes first. Without a database memory does alone.
 */
export class BlockStore {
  private readonly memory = new Map<string, ArrayBuffer>();
  private held = 0;
  private readonly kept = new Map<string, number>();
  private keptBytes = 0;
  private database: IDBDatabase | null = null;
  private readonly opened: Promise<void>;
  private readonly waiting = new Set<string>();
  private writing = 0;

  constructor() {
    this.opened = this.open().catch(() => undefined);
  }

  get(hash: string): ArrayBuffer | undefined {
    const block = this.memory.get(hash);
    if (block) {
      this.memory.delete(hash);
      this.memory.set(hash, block);
    }
    return block;
  }

  put(hash: string, block: ArrayBuffer): void {
    if (this.memory.has(hash)) return;
    this.memory.set(hash, block);
    this.held += block.byteLength;
    for (const [oldest, bytes] of this.memory) {
      if (this.held <= LIMIT_IN_MEMORY) break;
      this.memory.delete(oldest);
      this.held -= bytes.byteLength;
    }
  }

  /** Blocks of a frame: brings those that are not in memory, and notes that all were used, now. */
  async use(hashes: string[]): Promise<void> {
    await this.bring(hashes);
    // What comes before the database is open waits for it as well.
    for (const hash of hashes) {
      this.waiting.delete(hash);
      this.waiting.add(hash);
    }
    if (this.waiting.size > 0 && !this.writing) this.writing = window.setTimeout(() => void this.write(), 1500);
  }

  /** Whether keeping many more would push out what is still wanted. */
  get nearlyFull(): boolean {
    return this.held > 0.7 * LIMIT_IN_MEMORY;
  }

  /** Hashes of the blocks at hand, those used last first. */
  async hashes(): Promise<string[]> {
    await this.opened;
    const last = Array.from(this.memory.keys()).reverse();
    const more = Array.from(this.kept.keys()).reverse();
    return Array.from(new Set([...last, ...more])).slice(0, SENT_AT_ONCE);
  }

  /** Brings blocks into memory: from the database, or from the server where it has let one go. */
  private async bring(wanted: string[]): Promise<void> {
    await Promise.all(
      wanted
        .filter((hash) => !this.memory.has(hash))
        .map(async (hash) => {
          const kept = this.database ? await asked<Kept>(this.stores("readonly").blocks.get(hash)) : undefined;
          if (kept) return this.put(hash, kept.bytes);
          const answer = await fetch(`/api/blocks/${hash}`, { headers });
          if (answer.ok) this.put(hash, await answer.arrayBuffer());
        }),
    );
  }

  private async open(): Promise<void> {
    const request = indexedDB.open(DATABASE, 1);
    request.onupgradeneeded = () => {
      request.result.createObjectStore("blocks", { keyPath: "hash" });
      request.result.createObjectStore("sizes", { keyPath: "hash" });
    };
    this.database = (await asked<IDBDatabase>(request)) ?? null;
    const all = (await asked<Size[]>(this.stores("readonly").sizes.getAll())) ?? [];
    for (const { hash, size } of all.sort((one, other) => one.used - other.used)) {
      this.kept.set(hash, size);
      this.keptBytes += size;
    }
  }

  private stores(mode: IDBTransactionMode): { blocks: IDBObjectStore; sizes: IDBObjectStore } {
    if (!this.database) throw new Error("there is no database");
    const transaction = this.database.transaction(["blocks", "sizes"], mode);
    return { blocks: transaction.objectStore("blocks"), sizes: transaction.objectStore("sizes") };
  }

  /** Writes what came, and when what is kept was last used; a database that is full only means that it is not kept. */
  private async write(): Promise<void> {
    await this.opened;
    this.writing = 0;
    const hashes = Array.from(this.waiting);
    this.waiting.clear();
    if (!this.database) return;
    try {
      const { blocks: kept, sizes } = this.stores("readwrite");
      const now = Date.now();
      hashes.forEach((hash, place) => {
        const bytes = this.memory.get(hash);
        const before = this.kept.get(hash);
        const size = before ?? bytes?.byteLength;
        if (size === undefined) return;
        if (bytes && before === undefined) {
          kept.put({ hash, bytes } satisfies Kept);
          this.keptBytes += size;
        }
        // Parts of a millisecond keep the order of what is written at once.
        sizes.put({ hash, size, used: now + place / 4096 } satisfies Size);
        this.kept.delete(hash);
        this.kept.set(hash, size);
      });
      for (const [oldest, size] of this.kept) {
        if (this.keptBytes <= LIMIT_KEPT) break;
        kept.delete(oldest);
        sizes.delete(oldest);
        this.kept.delete(oldest);
        this.keptBytes -= size;
      }
      await new Promise((done, failed) => {
        kept.transaction.oncomplete = done;
        kept.transaction.onabort = failed;
      });
    } catch {
      for (const hash of hashes) this.forget(hash);
    }
  }

  private forget(hash: string): void {
    this.keptBytes -= this.kept.get(hash) ?? 0;
    this.kept.delete(hash);
  }
}

function asked<Result>(request: IDBRequest): Promise<Result | undefined> {
  return new Promise((done, failed) => {
    request.onsuccess = () => done(request.result as Result | undefined);
    request.onerror = () => failed(request.error);
  });
}

export const blocks = new BlockStore();
