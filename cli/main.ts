import { CoreError } from '@/core/error';
import { Problem } from '@/server/http/problem';
import { fill } from './fill';
import { matte } from './matte';
import { pack } from './pack';
import { plates } from './plates';
import { region } from './region';
import { reveal } from './reveal';
import { sheet } from './sheet';
import { USAGE, WrongWords } from './words';
import { views } from './views';

// The core without a browser. Exit 0; 2 for wrong words, with the usage; 1 with one line for anything else.

const COMMANDS: Record<string, (words: readonly string[]) => Promise<void>> = { views, pack, sheet, region, matte, plates, fill, reveal };

async function main(): Promise<void> {
  const [name, ...words] = process.argv.slice(2);
  if (name === '--help' || name === '-h' || name === 'help') {
    console.log(USAGE);
    return;
  }
  const command = name === undefined ? undefined : COMMANDS[name];
  if (!command) throw new WrongWords(name === undefined ? 'A command is needed.' : `There is no command '${name}'.`);
  await command(words);
}

main().catch((error: unknown) => {
  if (error instanceof WrongWords) {
    console.error(`cork-twin: ${error.message}\n\n${USAGE}`);
    process.exitCode = 2;
    return;
  }
  const told = error instanceof CoreError || error instanceof Problem;
  console.error(`cork-twin: ${told ? (error as Error).message : fileTrouble(error)}`);
  process.exitCode = 1;
});

/** What the system says of a file, as a sentence. */
function fileTrouble(error: unknown): string {
  const { code, path, message } = error as NodeJS.ErrnoException;
  const where = path ?? '';
  switch (code) {
    case 'ENOENT': return `${where} does not exist.`;
    case 'EACCES': return `${where} may not be read or written.`;
    case 'EISDIR': return `${where} is a folder, not a file.`;
    case 'ENOTDIR': return `${where} is not a folder.`;
    case 'ENOSPC': return 'There is no room left on the disk.';
    default: return (message ?? String(error)).split('\n')[0];
  }
}
