/** What an address at the door asks for beside coming in. */
export interface Wanted {
  comment?: string;
  approval?: string;
}

/** Where a guest is led who has come in: to what was asked for, else to where the link opens. */
export function behindDoor(projectId: string, viewpointId: string | null, { comment, approval }: Wanted): string {
  const project = `/projects/${encodeURIComponent(projectId)}`;
  if (approval) return `${project}/approvals`;
  const query: Record<string, string> = comment ? { comment } : viewpointId ? { viewpoint: viewpointId } : {};
  const words = new URLSearchParams(query).toString();
  return `${project}/review${words ? `?${words}` : ''}`;
}
