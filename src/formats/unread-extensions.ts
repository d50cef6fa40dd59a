import type { ReadWarning } from '@/core/project/publish-report';

/** What a file's report says of extensions that the file calls required and that are not read; nothing where there are none. */
export function unreadExtensions(names: Iterable<string>): ReadWarning[] {
  const all = [...names];
  return all.length === 0
    ? []
    : [
        {
          reason: `the file cannot do without ${all.join(', ')}, which Yurta does not read; it may look otherwise here`,
        },
      ];
}
