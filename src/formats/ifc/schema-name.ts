/** IFC4 for IFC4_ADD2 and the like: the schema without the name of its addendum or corrigendum. */
export function plainSchema(schema: string): string {
  return schema.replace(/_.*$/, '');
}
