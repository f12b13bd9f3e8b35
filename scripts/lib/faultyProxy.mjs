import net from 'node:net';

/**
 * Stands between a server and its database, and breaks connections at a byte of one's choice.
 *
 * @param target - { host, port } of the database
 * @returns { port, cutAfter(bytes), heal(), close() }: after `cutAfter` every connection ends once so many more bytes went through, either
 *   way, and new ones end at once, until `heal`
 */
export async function startFaultyProxy(target) {
  const pairs = new Set();
  let left = Infinity;
  const cut = () => {
    for (const pair of pairs) for (const socket of pair) socket.destroy();
    pairs.clear();
  };
  const server = net.createServer((client) => {
    if (left <= 0) return client.destroy();
    const database = net.connect(target);
    const pair = [client, database];
    pairs.add(pair);
    const end = () => {
      pairs.delete(pair);
      for (const socket of pair) socket.destroy();
    };
    for (const [from, to] of [pair, [database, client]]) {
      from.on('data', (chunk) => {
        if (chunk.length > left) {
          // Half of an answer is worse than none.
          if (left > 0) to.write(chunk.subarray(0, left));
          left = 0;
          setImmediate(cut);
          return;
        }
        left -= chunk.length;
        if (!to.write(chunk)) {
          from.pause();
          to.once('drain', () => from.resume());
        }
      });
      from.on('error', end);
      from.on('close', end);
    }
    return undefined;
  });
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    port: server.address().port,
    cutAfter: (bytes) => {
      left = bytes;
      if (bytes <= 0) cut();
    },
    heal: () => {
      left = Infinity;
    },
    close: () => {
      cut();
      return new Promise((resolve) => server.close(resolve));
    },
  };
}
