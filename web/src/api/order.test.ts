import { expect, test } from 'vitest';
import { Order } from './order';

const address = 'http://127.0.0.1/api/x';

function line() {
  const sent: string[] = [];
  const over: (() => void)[] = [];
  const order = new Order((request) => {
    sent.push(request.method);
    return new Promise((resolve, reject) => {
      if (request.method === 'GET') resolve(new Response());
      else
        over.push(() => (request.method === 'PUT' ? reject(new Error()) : resolve(new Response())));
    });
  });
  return { sent, over, order };
}

test('what is read waits for what is being kept', async () => {
  const { sent, over, order } = line();
  void order.request(new Request(address, { method: 'POST' }));
  const read = order.request(new Request(address));
  await Promise.resolve();
  expect(sent).toEqual(['POST']);
  over[0]?.();
  await read;
  expect(sent).toEqual(['POST', 'GET']);
});

test('what could not be kept holds nothing up', async () => {
  const { sent, over, order } = line();
  const kept = order.request(new Request(address, { method: 'PUT' })).catch(() => 'gone');
  const read = order.request(new Request(address));
  over[0]?.();
  await read;
  expect(await kept).toBe('gone');
  expect(sent).toEqual(['PUT', 'GET']);
});

test('what is kept waits for nothing', async () => {
  const { sent, order } = line();
  void order.request(new Request(address, { method: 'POST' }));
  void order.request(new Request(address, { method: 'DELETE' }));
  await Promise.resolve();
  expect(sent).toEqual(['POST', 'DELETE']);
});
