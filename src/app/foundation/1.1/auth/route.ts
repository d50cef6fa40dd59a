/** Programs come with an access token that a person has made in their settings. */
export function GET(): Response {
  return Response.json({ http_basic_supported: false, supported_oauth2_flows: [] });
}
