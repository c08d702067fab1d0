import { Type } from '@sinclair/typebox';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  createCreative,
  editCreative,
  readCreative,
  type CreativeOut,
} from '../../../../contract/equip/creatives';
import { planChange } from '../../../../contract/equip/planned';
import {
  creativeFields,
  emptyCreative,
  fieldWords,
  type CreativeField,
} from '../../../../core/material/creative';
import type { CreativeKind } from '../../../../core/material/lists';
import { asking } from '../../../kit/asking';
import { type Begun } from '../../../kit/begun';
import { placeFaults, resolverOf } from '../../../kit/form';
import { useKeptForm } from '../../../kit/kept-form';
import { useRefresh } from '../../../kit/refresh';
import { useSend } from '../../../kit/send';
import { properties, type Values } from './fields/bound';

const schema = Type.Object(properties);

const blank = (): Values => ({ ...emptyCreative, products: [], subjects: [] });

function valuesOf(creative: CreativeOut): Values {
  return { ...blank(), ...Object.fromEntries(creativeFields.map((f) => [f, creative[f]])) };
}

const read = (current: unknown): Begun<Values> => ({
  values: valuesOf(current as CreativeOut),
  version: (current as CreativeOut).version,
});

/** The form of a creative: what is typed outlives a reload, what others saved meanwhile is taken or shown. */
export function useCreativeForm(
  kind: CreativeKind,
  creative: CreativeOut | null,
  { may, begin }: { may: boolean; begin: Partial<Values> },
) {
  return useKeptForm<Values>({
    name: creative?.id ?? `new-${kind}`,
    now: creative ? read(creative) : { values: { ...blank(), ...begin }, version: 0 },
    title: (field) => fieldWords[field as CreativeField] ?? field,
    resolver: resolverOf(schema),
    may,
  });
}

type CreativeForm = ReturnType<typeof useCreativeForm>;
type Sent = Parameters<ReturnType<typeof useSend<typeof createCreative>>>[0]['body'];

const sentOf = (values: Values) => {
  const sent: unknown = Object.fromEntries(creativeFields.map((f) => [f, values[f]]));
  return sent as Omit<NonNullable<Sent>, 'kind'>;
};

/** Where one goes from a new creative: back to the request that it was made for, to answer with it. */
function nextOf({ id, name }: CreativeOut, request: string | null): string {
  return request === null
    ? `/creatives/${id}`
    : `/creatives/requests?${new URLSearchParams({ answer: request, creative: id, name }).toString()}`;
}

/** Saving, at once or for a later moment; a fault stands at its field, or above all of them. */
export function useSaving(kind: CreativeKind, creative: CreativeOut | null, form: CreativeForm) {
  const navigate = useNavigate();
  const request = useSearchParams()[0].get('request');
  const queries = useQueryClient();
  const refresh = useRefresh();
  const [edit, create, plan] = [useSend(editCreative), useSend(createCreative), useSend(planChange)];
  const [fault, setFault] = useState<string | null>(null);
  const { handleSubmit, setError } = form.form;
  const shown = (done: CreativeOut) => {
    form.begin(read(done));
    queries.setQueryData(asking(readCreative, { params: { id: done.id } }).queryKey, done);
    void refresh(editCreative);
  };
  const failed = (thrown: unknown, values: Values) => {
    if (!form.edit.overtake(thrown, read, values, form.put))
      setFault(placeFaults(thrown, setError, creativeFields));
  };
  const save = handleSubmit(async (values) => {
    setFault(null);
    try {
      const body = sentOf(values);
      const done = creative
        ? await edit({ params: { id: creative.id }, body: { ...body, version: form.edit.begun.version } })
        : await create({ body: { ...body, kind } });
      shown(done);
      toast(creative ? 'Saved' : `“${done.name}” is in the book`);
      if (!creative) void navigate(nextOf(done, request), { replace: true });
    } catch (thrown) {
      failed(thrown, values);
    }
  });
  const saveLater = (at: number) =>
    handleSubmit(async (values) => {
      setFault(null);
      if (!creative) return;
      const dirty = Object.keys(form.form.formState.dirtyFields) as CreativeField[];
      const changes = Object.fromEntries(dirty.map((field) => [field, values[field]]));
      try {
        shown(await plan({ params: { id: creative.id }, body: { at, changes } }));
        toast('Planned; it can be undone until then');
      } catch (thrown) {
        failed(thrown, values);
      }
    })();
  return { save, saveLater, fault, clear: () => setFault(null) };
}
