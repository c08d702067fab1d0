import type { UseFormReturn } from 'react-hook-form';
import type { BodyOf } from '../../../../../contract/endpoint';
import { CreativeIn, type createCreative, type CreativeOut } from '../../../../../contract/equip/creatives';
import type { FileOut } from '../../../../../contract/equip/material';
import type { CreativeKind } from '../../../../../core/material/lists';
import type { ProductChoice } from '../book-page';

/** What the form holds of a creative: every field, whatever its kind has use for. */
export type Values = Omit<BodyOf<typeof createCreative>, 'kind'> & Record<string, unknown>;

const { kind: _kind, ...fieldSchemas } = CreativeIn.properties;
export const properties = fieldSchemas;

/** What the parts of the form share. */
export interface Part {
  form: UseFormReturn<Values>;
  kind: CreativeKind;
  disabled: boolean;
  creative: CreativeOut | null;
  products: readonly ProductChoice[];
  subjects: readonly string[];
  /** what is known of files that were uploaded in this form, by digest */
  files: ReadonlyMap<string, FileOut>;
  addFile: (file: FileOut) => void;
}
