/**
 * Requests in an order that makes sense: what is read waits for what is on its way to be kept. A
 * page that is opened right after something was pressed on another would not know of it.
 */
export class Order {
  private writing = new Set<Promise<unknown>>();

  constructor(private send: (request: Request) => Promise<Response>) {}

  async request(request: Request): Promise<Response> {
    if (request.method === 'GET') {
      await Promise.allSettled(this.writing);
      return this.send(request);
    }
    const sent = this.send(request);
    this.writing.add(sent);
    try {
      return await sent;
    } finally {
      this.writing.delete(sent);
    }
  }
}
