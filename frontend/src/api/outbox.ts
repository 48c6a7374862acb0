/** What is not sent yet, kept where a crash or a reload can't reach it. */
export interface Unsent<T> {
  ticket: number;
  what: T;
  /** The revision the page showed when it was done. */
  revision: number;
}

export class Outbox<T> {
  constructor(private readonly key: string) {}

  put(what: T, revision: number): number {
    const all = this.all();
    const ticket = 1 + Math.max(0, ...all.map((u) => u.ticket));
    this.write([...all, { ticket, what, revision }]);
    return ticket;
  }

  done(ticket: number): void {
    this.write(this.all().filter((u) => u.ticket !== ticket));
  }

  clear(): void {
    this.write([]);
  }

  /** All there is, in order. */
  all(): Unsent<T>[] {
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(this.key) ?? "[]");
      return Array.isArray(kept) ? (kept as Unsent<T>[]) : [];
    } catch {
      return [];
    }
  }

  private write(all: Unsent<T>[]): void {
    if (all.length > 0) localStorage.setItem(this.key, JSON.stringify(all));
    else localStorage.removeItem(this.key);
  }
}
