import { useQuery } from '@tanstack/react-query';
import { listSets, type SetOut } from '../../../contract/setup/sets';
import { asking } from '../../kit/asking';

/** Cards, groups and tags; none as long as they are not read. */
export function useSets(): SetOut[] {
  return useQuery(asking(listSets)).data?.rows ?? [];
}

/** Those of one kind as choices: id and name. */
export const setChoices = (sets: SetOut[], kind: SetOut['of']) =>
  sets.filter((s) => s.of === kind).map((s) => [s.id, s.name] as const);
