/** Asks for another name for a file; null where the person leaves it. The ending is not asked for. */
export function askForName(fileName: string): string | null {
  return (
    window
      .prompt('What is the file to be called? The ending stays.', fileName.replace(/\.[^.]*$/, ''))
      ?.trim() || null
  );
}
