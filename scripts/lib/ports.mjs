import net from 'node:net';

export function isFree(port, host) {
  return new Promise((resolve) => {
    const probe = net.createServer();
    probe.once('error', () => resolve(false));
    probe.listen({ port, host, exclusive: true }, () => probe.close(() => resolve(true)));
  });
}

/** The wanted port, or the next free one above it. */
export async function freePortFrom(wanted, host) {
  for (let port = wanted; port < wanted + 50 && port <= 65535; port += 1) if (await isFree(port, host)) return port;
  throw new Error(`No free port from ${wanted} to ${wanted + 49}. Choose one yourself: PORT=8080 npm start`);
}

/** Any free port, chosen by the system. */
export function anyFreePort(host) {
  return new Promise((resolve, reject) => {
    const probe = net.createServer();
    probe.once('error', reject);
    probe.listen({ port: 0, host }, () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
}
