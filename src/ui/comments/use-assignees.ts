import { useEffect, useState } from 'react';
import { api } from '../api';

export interface Person {
  id: string;
  name: string;
}

/** The members of a project, who can be asked to do something; empty until they are there, and for those who may not ask. */
export function useAssignees(projectId: string, mayAsk: boolean): Person[] {
  const [people, setPeople] = useState<Person[]>([]);
  useEffect(() => {
    if (!mayAsk) return;
    let isWanted = true;
    api.get<Person[]>(`/api/projects/${projectId}/assignees`).then(
      (found) => isWanted && setPeople(found),
      () => isWanted && setPeople([]),
    );
    return () => {
      isWanted = false;
    };
  }, [projectId, mayAsk]);
  return people;
}
