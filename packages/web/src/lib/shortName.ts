/** What a piece of evidence is called in a line: without its folder; a typed line has no file of its own. */
export const shortName = (file: string): string =>
  file.startsWith('typed/') ? 'typed' : file.slice(file.lastIndexOf('/') + 1);
