/** What a refusal says, as far as tests look at it. */
export interface Problemed {
  code?: string;
  detail?: string;
  errors?: { pointer: string; detail: string; example?: string }[];
}
