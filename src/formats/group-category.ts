/** What programs call a group that nobody has named. */
const SAYS_NOTHING =
  /^(root|scene|world|model|default|node|group|object|mesh|empty|null|assembly|untitled)([ _-]?(root|node|scene|group|model|\d+))*$/i;

/**
 * The category of what lies in a group: the group's name, as formats without categories have them in layers and
 * collections; unless it says nothing, then that of the group around it.
 */
export function groupCategory(name: string, outer: string): string {
  const own = name.trim();
  return own === '' || SAYS_NOTHING.test(own) ? outer : own;
}
