// Runs in one network namespace: listens on ports, sends what it is told to send, and says what arrived. JSON lines.
import { spawn } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { connect, createServer } from 'node:net';
import { createInterface } from 'node:readline';

const ports = JSON.parse(process.argv[2]);
const say = (line) => process.stdout.write(`${JSON.stringify(line)}\n`);
const plain = (address) => address.replace(/^::ffff:/, '');

const ready = [];
for (const port of ports) {
  const server = createServer((socket) => {
    const { localAddress, localPort, remoteAddress } = socket;
    socket.on('error', () => {});
    socket.once('data', (data) => {
      say({
        arrived: Number(data),
        from: plain(remoteAddress ?? ''),
        to: plain(localAddress ?? ''),
        port: localPort,
      });
      socket.end('answer');
    });
  });
  ready.push(new Promise((resolve) => server.listen(port, '::', resolve)));
  for (const type of ['udp4', 'udp6']) {
    const socket = createSocket({ type, ipv6Only: type === 'udp6' });
    socket.on('error', () => {});
    socket.on('message', (data, { address }) => say({ arrived: Number(data), from: address, to: '', port }));
    ready.push(new Promise((resolve) => socket.bind(port, resolve)));
  }
}
await Promise.all(ready);
say({ ready: true });

function ask({ id, protocol, from, to, port, waitMs }) {
  if (protocol === 'icmp') {
    const seconds = Math.max(1, Math.ceil(waitMs / 1000));
    const sender = spawn('ping', ['-c', '1', '-W', `${seconds}`, ...(from ? ['-I', from] : []), to], {
      stdio: 'ignore',
    });
    sender.on('error', () => say({ asked: id, answered: false }));
    sender.on('exit', (code) => say({ asked: id, answered: code === 0 }));
    return;
  }
  if (protocol === 'udp') {
    const socket = createSocket(to.includes(':') ? 'udp6' : 'udp4');
    socket.on('error', () => {});
    socket.bind(0, from || undefined, () => socket.send(String(id), port, to, () => {}));
    setTimeout(() => {
      socket.close();
      say({ asked: id, answered: false });
    }, waitMs);
    return;
  }
  let done = false;
  const socket = connect({ host: to, port, ...(from && { localAddress: from }) });
  const end = (answered) => {
    if (done) return;
    done = true;
    socket.destroy();
    say({ asked: id, answered });
  };
  setTimeout(() => end(false), waitMs);
  socket.on('connect', () => socket.write(String(id)));
  socket.on('data', () => end(true));
  socket.on('error', () => end(false));
  socket.on('close', () => end(false));
}

for await (const line of createInterface({ input: process.stdin })) ask(JSON.parse(line));
process.exit(0);
