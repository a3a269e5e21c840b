const REST = 250; // ms in which nothing is asked, nor is an answer waited for

/**
 * Questions to the server of which only the newest matters: while one is asked the next waits, and replaces one that
 * waits already. An answer counts unless all was forgotten since it was asked for.
 */
export class Newest {
  private resting: ReturnType<typeof setTimeout> | undefined;
  private atRest: (() => void) | null = null;
  private asking = false;
  private waiting: (() => Promise<void>) | null = null;
  private age = 0;

  ask<T>(question: () => Promise<T>, answered: (answer: T | null) => void) {
    clearTimeout(this.resting);
    this.atRest = null;
    const ask = async () => {
      const age = this.age;
      this.asking = true;
      const answer = await question().catch(() => null); // the edit itself will say why
      if (age === this.age) answered(answer);
      this.asking = false;
      const next = this.waiting;
      this.waiting = null;
      if (next) void next();
      else this.rest();
    };
    if (this.asking) this.waiting = ask;
    else void ask();
  }

  /** Ask when all else is answered and nothing was asked for a while. */
  askAtRest<T>(question: () => Promise<T>, answered: (answer: T | null) => void) {
    this.atRest = () => this.ask(question, answered);
    this.rest();
  }

  forget() {
    this.age++;
    this.waiting = null;
    this.atRest = null;
  }

  private rest() {
    clearTimeout(this.resting);
    if (!this.asking) this.resting = setTimeout(() => this.atRest?.(), REST);
  }
}
