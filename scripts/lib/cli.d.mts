/** Bundles the command line if it has changed. @returns the path of the program */
export function buildCli(more?: Readonly<Record<string, string>>): Promise<string>;
