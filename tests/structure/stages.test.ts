import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { STAGES } from '@/studio/stages';

const ROOT = join(__dirname, '../..');
const files = execFileSync('git', ['ls-files', '-co', '--exclude-standard', 'studio', 'compute'], {
  cwd: ROOT,
  encoding: 'utf8',
})
  .split('\n')
  .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$/.test(file));

describe('a stage', () => {
  const LIST = 'studio/stages/index.ts';
  test.each(STAGES.map(({ key }) => key))('%s is named in its own folder and in the one list of stages only', (key) => {
    const asStage = new RegExp(
      [
        `\\bstages?\\b[^\\n]{0,12}(===|!==|=|:)\\s*\\{?\\s*['"]${key}['"]`,
        `\\b(opened|ways)(\\.${key}\\b|\\[['"]${key}['"]\\]|:\\s*\\{[^}]*\\b${key}:)`,
        `stages/${key}/`,
        `from '(\\.\\./)*\\.?/?${key}/`,
      ].join('|'),
    );
    const elsewhere = files.filter(
      (file) =>
        file !== LIST &&
        !file.startsWith(`studio/stages/${key}/`) &&
        asStage.test(readFileSync(join(ROOT, file), 'utf8')),
    );
    expect(elsewhere).toEqual([]);
  });

  test('the search finds a stage that is named elsewhere', () => {
    const list = readFileSync(join(ROOT, LIST), 'utf8');
    for (const { key } of STAGES) expect(list).toContain(`./${key}/module`);
  });

  test('has a name, ways of working with keys of their own, and tools for ways that it has', () => {
    for (const { key, name, ways, tools } of STAGES) {
      expect(name.toLowerCase()).toBe(key);
      const keys = ways.map((way) => way.key);
      expect(new Set(keys).size).toBe(keys.length);
      for (const tool of Object.keys(tools)) expect(keys).toContain(tool);
    }
  });
});
