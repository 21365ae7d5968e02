import { spawn, type ChildProcess } from 'node:child_process';
import { connect, createServer, type AddressInfo, type Socket } from 'node:net';

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

/** @param databaseUrl another way to the database than the usual one */
export async function ownServer(databaseUrl?: string): Promise<OwnServer> {
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
          env: {
            ...process.env,
            ...(databaseUrl === undefined ? {} : { FAIR_DATABASE_URL: databaseUrl }),
            NODE_ENV: 'production',
            NEXT_TELEMETRY_DISABLED: '1',
          },
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

/**
 * A way to the database that can be cut and opened again: to the server it looks as if the database
 * were restarted.
 */
export interface DatabaseGate {
  readonly url: string;
  open(): Promise<void>;
  /** Cuts every connection and refuses new ones. */
  cut(): Promise<void>;
}

export async function databaseGate(): Promise<DatabaseGate> {
  const target = new URL(process.env.FAIR_DATABASE_URL!);
  const port = await freePort();
  const sockets = new Set<Socket>();
  const gate = createServer((client) => {
    const database = connect(Number(target.port), target.hostname);
    for (const socket of [client, database]) {
      sockets.add(socket);
      socket.on('error', () => undefined);
      socket.on('close', () => {
        sockets.delete(socket);
        client.destroy();
        database.destroy();
      });
    }
    client.pipe(database).pipe(client);
  });
  const url = new URL(target);
  url.port = String(port);
  return {
    url: url.toString(),
    open: () => new Promise((resolve) => gate.listen(port, '127.0.0.1', resolve)),
    cut: () =>
      new Promise((resolve) => {
        gate.close(() => resolve());
        for (const socket of sockets) socket.destroy();
      }),
  };
}
