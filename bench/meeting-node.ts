import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { attachSockets } from '@/gateway/sockets';

/** A node of the live line alone, in a process of its own. Tells its parent the port. */
const server = createServer();
attachSockets(server);
server.listen(0, '127.0.0.1', () => process.send!({ port: (server.address() as AddressInfo).port }));
process.on('disconnect', () => process.exit(0));
