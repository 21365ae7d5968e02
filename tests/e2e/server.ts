import { spawn, type ChildProcess } from 'node:child_process';
import { createServer, type AddressInfo } from 'node:net';

/** A web server of a test's own, which it may kill and start again on the same port. */
export interface OwnServer {
  readonly url: string;
  start(): Promise<void>;
  /** As a crash would: no chance to finish anything. */
  kill(): Promise<void>;
}

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });

export async function ownServer(): Promise<OwnServer> {
  const port = await freePort();
  const url = `http://127.0.0.1:${port}`;
  let child: ChildProcess | null = null;
  return {
    url,
    async start() {
      child = spawn(
        process.execPath,
        ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)],
        {
          stdio: 'ignore',
          env: { ...process.env, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' },
        },
      );
      for (let attempt = 0; attempt < 300; attempt++) {
        const isUp = await fetch(`${url}/api/health`).then(
          (r) => r.ok,
          () => false,
        );
        if (isUp) return;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
      throw new Error('the test’s own server did not answer');
    },
    async kill() {
      if (child?.exitCode !== null || child.signalCode !== null) return;
      const running = child;
      const gone = new Promise((resolve) => running.once('exit', resolve));
      running.kill('SIGKILL');
      await gone;
    },
  };
}
