import { createContext, useContext } from 'react';
import type { AnyEndpoint } from '../../contract/endpoint';
import { type Role } from '../../core/access/lists';

export interface Person {
  id: string;
  name: string;
  role: Role;
}

export const PersonContext = createContext<Person>({ id: '', name: '', role: 'viewer' });

/** Whether the signed-in person may make a call: what may not be done is not offered. The server decides all the same. */
export function useMay(): (end: AnyEndpoint) => boolean {
  const { role } = useContext(PersonContext);
  return (end) => Array.isArray(end.access) && (end.access as readonly Role[]).includes(role);
}
