/** `npm run demo`: from a fresh clone to a running shop. Arguments go on to scripts/start.ts. */
import { build, install, tsx } from './prepare.mjs';

const args = process.argv.slice(2);
const value = (name, otherwise) => {
  const at = args.findIndex((a) => a === name || a.startsWith(`${name}=`));
  return at < 0 ? otherwise : args[at].includes('=') ? args[at].split('=')[1] : args[at + 1];
};

// npm that is ended alone passes no signal on: then the shop ends with it, instead of holding its ports
// without anyone to stop it.
const parent = process.ppid;
setInterval(() => process.ppid !== parent && process.kill(process.pid, 'SIGTERM'), 1000).unref();

try {
  await install();
  const size = value('--size', 'demo');
  const items = value('--items', '2400');
  const usual = size === 'full' ? 'full' : `demo${items === '2400' ? '' : `-${items}`}`;
  const folder = value('--data', `.sampan/${usual}`);
  const livePast = () => {
    console.log(
      size === 'full'
        ? 'Making the shop at full size, unless done before …'
        : 'Living sixty days of demo history, unless done before …',
    );
    return tsx('demo/make.ts', [folder, '--items', items, '--size', size]);
  };
  await Promise.all([build(), args.includes('--empty') ? null : livePast()]);
  await tsx('scripts/start.ts', args);
} catch (error) {
  console.error(error.message);
  process.exit(error.code ?? 1);
}
