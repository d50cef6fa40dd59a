import { answering } from '@/app/api/answering';

type Work = Parameters<typeof answering>[0];

/** A route of the BCF-API: what it refuses carries its reason as `message`, as that standard has it. */
export function bcfAnswering(work: Work): ReturnType<typeof answering> {
  const answer = answering(work);
  return async (request, context) => {
    const response = await answer(request, context);
    if (response.ok) return response;
    const { title } = (await response.json()) as { title: string };
    return Response.json({ message: title }, { status: response.status });
  };
}

/** Made, and therefore 201. */
export function made(body: object): Response {
  return Response.json(body, { status: 201 });
}
