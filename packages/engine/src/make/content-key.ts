import { createHash } from 'node:crypto';
import { nameFile } from '../process/input-args.ts';

/** Of files, as commands name them, what tells their content. */
export class FileContents {
  readonly #contents = new Map<string, string>();

  add(path: string, content: string): void {
    this.#contents.set(nameFile(path), content);
  }

  /**
   * A command with the content of files in place of where they lie. Throws a `TypeError` where it reads a
   * file that was not added.
   */
  replaceIn(args: readonly string[]): string[] {
    return args.map((each) => {
      const content = this.#contents.get(each);
      if (content === undefined && each.startsWith('file:'))
        throw new TypeError('A file whose content is not known.');
      return content ?? each;
    });
  }
}

/** A name for what is made of these parts: the same parts, the same name. SHA-256, 40 hexadecimal digits. */
export function nameByContent(parts: readonly unknown[]): string {
  return createHash('sha256').update(JSON.stringify(parts)).digest('hex').slice(0, 40);
}
