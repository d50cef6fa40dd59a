/** Which open interfaces programs find here. */
export function GET(): Response {
  return Response.json({
    versions: [
      { api_id: 'foundation', version_id: '1.1', detailed_version: 'https://github.com/buildingSMART/foundation-API/tree/release_1_1' }, // prettier-ignore
      {
        api_id: 'bcf',
        version_id: '3.0',
        detailed_version: 'https://github.com/buildingSMART/BCF-API/tree/release_3_0',
      },
    ],
  });
}
