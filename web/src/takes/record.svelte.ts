/** Tells views that list takes when another one has been kept, late ones included. */
class Record {
  version = $state(0);

  grew(): void {
    this.version++;
  }
}

export const record = new Record();
