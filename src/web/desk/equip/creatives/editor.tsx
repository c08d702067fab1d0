import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import {
  createCreative,
  editCreative,
  readCreative,
  surveyCreatives,
  type CreativeOut,
} from '../../../../contract/equip/creatives';
import { uploadMaterial, type FileOut } from '../../../../contract/equip/material';
import { listProducts } from '../../../../contract/setup/products';
import { creativeKinds, kindWords, type CreativeKind } from '../../../../core/material/lists';
import { readSize, sizeName } from '../../../../core/material/sizes';
import { isId, type Id } from '../../../../core/text/id';
import { useUnderWay } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { NoSuchPage } from '../../../kit/by-id';
import { FormFault } from '../../../kit/form';
import { useKeys } from '../../../kit/keys';
import { Split } from '../../../kit/layout';
import { Note } from '../../../kit/note';
import { Bar, BarEnd, Failed, Heading, Skeleton } from '../../../kit/place';
import { RestoredNote } from '../../../kit/restored';
import { State } from '../../../kit/state';
import { useMay } from '../../roles';
import { LaterDialog } from './acts/later';
import { EditorMargin } from './editor-margin';
import type { Part } from './fields/bound';
import { CommonFields } from './fields/common';
import { OwnFields } from './fields/own';
import { useCreativeForm, useSaving } from './form';

/** A new creative of the kind that the address names. */
export function NewCreative() {
  const { kind } = useParams();
  const known = creativeKinds.find((k) => k === kind);
  return known ? <Editor key={known} kind={known} creative={null} /> : <NoSuchPage />;
}

/** A creative: its form, and beside it what a buyer and what an affiliate sees of it. */
export default function CreativePage({ id }: { id: Id<'creative'> }) {
  const found = useQuery(asking(readCreative, { params: { id } }));
  if (found.isPending) return <Skeleton />;
  if (found.error) return <Failed fault={found.error} retry={() => void found.refetch()} />;
  return <Editor key={`${id}-${found.data.version}`} kind={found.data.kind} creative={found.data} />;
}

/** What the address says of a new creative: the product that lacks it. */
function useBeginning(): { products?: Id<'product'>[] } {
  const [params] = useSearchParams();
  const product = params.get('product') ?? '';
  return isId(product, 'product') ? { products: [product] } : {};
}

/** What the form is made of: the values, what is chosen beside them, and saving. */
function useEditor(kind: CreativeKind, creative: CreativeOut | null) {
  const may = useMay();
  const mayEdit = may(creative ? editCreative : createCreative) && !creative?.removed;
  const editing = useCreativeForm(kind, creative, { may: mayEdit, begin: useBeginning() });
  const saving = useSaving(kind, creative, editing);
  const products = useQuery(asking(listProducts, { query: { limit: 500 } })).data?.rows ?? [];
  const subjects = useQuery(asking(surveyCreatives)).data?.subjects ?? [];
  const [files, setFiles] = useState<ReadonlyMap<string, FileOut>>(new Map());
  const { form } = editing;
  const part: Part = {
    ...{ form, kind, creative, products, subjects, files },
    disabled: !mayEdit,
    addFile: (file) => setFiles((all) => new Map([...all, [file.hash, file]])),
  };
  const discard = () => {
    editing.discard();
    saving.clear();
  };
  return { mayEdit, editing, saving, part, discard };
}

function Editor({ kind, creative }: { kind: CreativeKind; creative: CreativeOut | null }) {
  const navigate = useNavigate();
  const { mayEdit, editing, saving, part, discard } = useEditor(kind, creative);
  const [later, setLater] = useState(false);
  const { isDirty, isSubmitting } = editing.form.formState;
  const keys = useKeys([{ key: 'Escape', what: 'back to the book', act: () => void navigate('/creatives') }]);
  return (
    <>
      <Split>
        <form
          id="creative"
          noValidate
          className="min-w-0 flex-1 overflow-auto bg-sheet"
          onSubmit={(e) => void saving.save(e)}
        >
          <CreativeHead kind={kind} creative={creative} />
          <div className="max-w-[720px] space-y-4 px-5 pb-8">
            <FormFault>{saving.fault}</FormFault>
            {creative?.removed && (
              <Note>It was taken out of the book; bring it back there to change it.</Note>
            )}
            {editing.isRestored && <RestoredNote discard={discard} />}
            {editing.edit.note(editing.put)}
            <OwnFields {...part} />
            <CommonFields {...part} />
          </div>
        </form>
        <EditorMargin part={part} />
      </Split>
      {mayEdit && (
        <EditorBar
          isNew={creative === null}
          isDirty={isDirty}
          isSaving={isSubmitting}
          onLater={() => setLater(true)}
          discard={discard}
        />
      )}
      {later && (
        <LaterDialog
          onClose={() => setLater(false)}
          onMoment={(at) => {
            setLater(false);
            void saving.saveLater(at);
          }}
        />
      )}
      {keys}
    </>
  );
}

function EditorBar({
  isNew,
  isDirty,
  isSaving,
  onLater,
  discard,
}: {
  isNew: boolean;
  isDirty: boolean;
  isSaving: boolean;
  onLater: () => void;
  discard: () => void;
}) {
  const isUploading = useUnderWay(uploadMaterial);
  const saved = isNew ? 'nothing typed yet' : 'saved';
  return (
    <Bar>
      <Button type="submit" form="creative" look="main" busy={isSaving || isUploading} disabled={!isDirty}>
        {isNew ? 'Put it into the book' : 'Save'}
      </Button>
      {!isNew && (
        <Button disabled={!isDirty || isUploading} onClick={onLater}>
          Save for later…
        </Button>
      )}
      <Button disabled={!isDirty} onClick={discard}>
        Discard
      </Button>
      <BarEnd>
        {isDirty ? 'not saved; kept in this browser' : saved} · <kbd>Esc</kbd> back to the book
      </BarEnd>
    </Bar>
  );
}

function CreativeHead({ kind, creative }: { kind: CreativeKind; creative: CreativeOut | null }) {
  const [one] = kindWords[kind];
  const [params] = useSearchParams();
  const size = readSize(params.get('size') ?? '');
  if (!creative)
    return (
      <Heading title={`New ${one}`}>
        {size ? `One of ${sizeName(size)} is wanted; it is` : 'It is'} in the book as soon as it is saved
      </Heading>
    );
  return (
    <Heading title={creative.name} acts={<State is={creative.state} />}>
      {one}, made by <span className="private">{creative.by}</span>
    </Heading>
  );
}
