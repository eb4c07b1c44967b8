export const LICENCES: readonly string[];
export const INSTALL_SCRIPTS: Readonly<Record<string, string>>;
export interface LockedPackage {
  readonly name: string;
  readonly version: string;
  readonly licence: string;
  readonly ships: boolean;
  readonly optional: boolean;
  readonly runs: boolean;
}
export function packagesOf(lock: unknown): readonly LockedPackage[];
export function licencesPage(lock: unknown): string;
