/** Does one thing after the other, however quickly they are asked for. */
export class InTurn {
  private last: Promise<void> = Promise.resolve();

  /** Does some work once all before it is done; it deals with its own errors. */
  run(work: () => Promise<void>): Promise<void> {
    this.last = this.last.then(work);
    return this.last;
  }
}
