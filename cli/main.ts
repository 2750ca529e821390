import { CoreError } from '@/core/error';
import { Problem } from '@/server/http/problem';
import { USAGE, WrongWords } from './words';

// The core without a browser. Exit 0; 2 for wrong words, with the usage; 1 with one line for anything else.

type Command = (words: readonly string[]) => Promise<void>;
/** Each command is read in when it is asked for: one that needs no database does not wait for its code. */
const COMMANDS: Record<string, () => Promise<Command>> = {
  views: async () => (await import('./commands/views')).views,
  pack: async () => (await import('./commands/pack')).pack,
  sheet: async () => (await import('./commands/sheet')).sheet,
  region: async () => (await import('./commands/region')).region,
  matte: async () => (await import('./commands/matte')).matte,
  plates: async () => (await import('./commands/plates')).plates,
  fill: async () => (await import('./commands/fill')).fill,
  move: async () => (await import('./commands/move')).move,
  'depth-from-marks': async () => (await import('./commands/depthFromMarks')).depthFromMarks,
  'depth-from-pair': async () => (await import('./commands/depthFromPair')).depthFromPair,
  'depth-generate': async () => (await import('./commands/depthGenerate')).depthGenerate,
  'depth-convert': async () => (await import('./commands/depthConvert')).depthConvert,
  footage: async () => (await import('./commands/footage')).footage,
  carry: async () => (await import('./commands/carry')).carry,
  reveal: async () => (await import('./commands/reveal')).reveal,
};

async function main(): Promise<void> {
  const [name, ...words] = process.argv.slice(2);
  if (name === '--help' || name === '-h' || name === 'help') {
    console.log(USAGE);
    return;
  }
  const command = name === undefined ? undefined : COMMANDS[name];
  if (!command) throw new WrongWords(name === undefined ? 'A command is needed.' : `There is no command '${name}'.`);
  await (
    await command()
  )(words);
}

main().catch((error: unknown) => {
  if (error instanceof WrongWords) {
    console.error(`cork-twin: ${error.message}\n\n${USAGE}`);
    process.exitCode = 2;
    return;
  }
  const foreseen = error instanceof CoreError || error instanceof Problem;
  console.error(`cork-twin: ${foreseen ? (error as Error).message : fileTrouble(error)}`);
  process.exitCode = 1;
});

/** What the system says of a file, as a sentence. */
function fileTrouble(error: unknown): string {
  const { code, path, message } = error as NodeJS.ErrnoException;
  const where = path ?? '';
  switch (code) {
    case 'ENOENT':
      return `${where} does not exist.`;
    case 'EACCES':
      return `${where} may not be read or written.`;
    case 'EISDIR':
      return `${where} is a folder, not a file.`;
    case 'ENOTDIR':
      return `${where} is not a folder.`;
    case 'ENOSPC':
      return 'There is no room left on the disk.';
    default:
      return (message ?? String(error)).split('\n')[0];
  }
}
