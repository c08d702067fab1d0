import { useQuery } from '@tanstack/react-query';
import { listSets, type SetOut } from '../../../contract/setup/sets';
import { call } from '../../kit/api';

/** Cards, groups and tags; none as long as they are not read. */
export function useSets(): SetOut[] {
  return useQuery({ queryKey: ['sets'], queryFn: () => call(listSets) }).data?.rows ?? [];
}

/** Those of one kind as choices: id and name. */
export const setChoices = (sets: SetOut[], kind: SetOut['of']) =>
  sets.filter((s) => s.of === kind).map((s) => [s.id, s.name] as const);
