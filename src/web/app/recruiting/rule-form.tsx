import { useState } from 'react';
import { toast } from 'sonner';
import { createRule, editRule } from '../../../contract/screening';
import { Refused } from '../../kit/api';
import { useAct } from '../../kit/act';
import { Button } from '../../kit/button';
import { Dialog, DialogFoot } from '../../kit/dialog';
import type { Rule } from './rules';

type Conditions = Rule['conditions'];
type Outcome = Rule['outcome'];
const field = 'mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';
const number = (text: string) => (text.trim() === '' ? undefined : Number(text));
const codes = (text: string) => { const list = text.toUpperCase().split(/[^A-Z]+/).filter(Boolean); return list.length ? list : undefined; };
const yesNo = (text: string) => (text === '' ? undefined : text === 'yes');
const shown = (value: boolean | undefined) => (value === undefined ? '' : value ? 'yes' : 'no');

/** A rule: what must hold, all of it, and what follows. */
export function RuleForm({ rule, products, onClose }: { rule: Rule | null; products: { id: string; name: string }[]; onClose: () => void }) {
  const c: Conditions = rule?.conditions ?? {};
  const [cleared, setCleared] = useState(c.clearedLeast === undefined ? '' : String(c.clearedLeast));
  const [refunds, setRefunds] = useState(c.refundsMost ?? '');
  const [standing, setStanding] = useState(c.standingLeast === undefined ? '' : String(c.standingLeast));
  const [tenure, setTenure] = useState(c.tenureLeast === undefined ? '' : String(c.tenureLeast));
  const [inside, setInside] = useState((c.countryIn ?? []).join(', '));
  const [outside, setOutside] = useState((c.countryNotIn ?? []).join(', '));
  const [note, setNote] = useState(shown(c.note));
  const [original, setOriginal] = useState(shown(c.original));
  const [vouched, setVouched] = useState(shown(c.vouched));
  const [chosen, setChosen] = useState<string[]>(c.products ?? []);
  const [outcome, setOutcome] = useState<Outcome>(rule?.outcome ?? { do: 'approve', timing: 'after-hold' });
  const [fault, setFault] = useState<Record<string, string>>({});
  const options = {
    done: () => { onClose(); toast(rule ? 'Saved' : 'Added at the end, switched off: rehearse it, then switch it on'); },
    failed: (f: unknown) => setFault(f instanceof Refused ? Object.fromEntries((f.problem.errors.length ? f.problem.errors : [{ pointer: '/', detail: f.problem.detail }]).map((e) => [e.pointer.replace(/^\/(conditions\/|outcome\/)?/, '').split('/')[0] ?? '', e.detail])) : { '': 'It was not saved; what you typed is kept.' }),
  };
  const make = useAct(createRule, options);
  const edit = useAct(editRule, options);
  const save = () => {
    setFault({});
    const conditions = Object.fromEntries(Object.entries({
      clearedLeast: number(cleared), refundsMost: refunds.trim() || undefined, standingLeast: number(standing), tenureLeast: number(tenure), countryIn: codes(inside), countryNotIn: codes(outside), note: yesNo(note), original: yesNo(original), vouched: yesNo(vouched), products: chosen.length ? chosen : undefined,
    }).filter(([, v]) => v !== undefined)) as Conditions;
    if (rule) edit.mutate({ params: { id: rule.id }, body: { conditions, outcome, on: rule.on, version: rule.version } });
    else make.mutate({ body: { conditions, outcome } });
  };
  const at = (name: string) => (fault[name] ? <span role="alert" className="block font-normal text-madder">{fault[name]}</span> : null);
  const general = Object.entries(fault).filter(([k]) => !['clearedLeast', 'refundsMost', 'standingLeast', 'tenureLeast', 'countryIn', 'countryNotIn', 'note', 'original', 'products', 'reason'].includes(k)).map(([, v]) => v);
  const figure = (label: string, name: string, value: string, set: (v: string) => void, example: string) => <label className="block font-semibold text-ink2">{label}<input inputMode="decimal" value={value} onChange={(e) => set(e.target.value)} placeholder={example} aria-invalid={fault[name] ? true : undefined} className={field} />{at(name)}</label>;
  const choice = (label: string, name: string, value: string, set: (v: string) => void, yes: string, no: string) => <label className="block font-semibold text-ink2">{label}<select value={value} onChange={(e) => set(e.target.value)} className={field}><option value="">does not matter</option><option value="yes">{yes}</option><option value="no">{no}</option></select>{at(name)}</label>;
  return (
    <Dialog open onClose={onClose} wide title={rule ? 'Change the rule' : 'New rule'} about="Everything that is filled in must hold; what is empty does not matter.">
      <form className="space-y-3" onSubmit={(e) => { e.preventDefault(); save(); }}>
        {general.length > 0 && <p role="alert" className="border-l-[3px] border-madder bg-madder-wash px-3 py-2">{general.join('; ')}</p>}
        <div className="grid grid-cols-4 gap-3">{figure('Cleared sales, at least', 'clearedLeast', cleared, setCleared, '50')}{figure('Refund rate, at most %', 'refundsMost', refunds, setRefunds, '8')}{figure('Standing, at least', 'standingLeast', standing, setStanding, '60')}{figure('Days as an affiliate', 'tenureLeast', tenure, setTenure, '365')}</div>
        <div className="grid grid-cols-2 gap-3">{figure('Country is one of', 'countryIn', inside, setInside, 'PT, ES, FR')}{figure('Country is none of', 'countryNotIn', outside, setOutside, 'CY')}{choice('Note', 'note', note, setNote, 'there is one', 'there is none')}{choice('Note compared with others', 'original', original, setOriginal, 'like no other', 'nearly the same as another, or missing')}{choice('Registry', 'vouched', vouched, setVouched, 'vouches for the applicant', 'does not vouch for the applicant')}</div>
        <fieldset><legend className="font-semibold text-ink2">Only for</legend><div className="mt-1 flex flex-wrap gap-x-4 gap-y-1">{products.map((p) => <label key={p.id} className="flex items-center gap-1"><input type="checkbox" checked={chosen.includes(p.id)} onChange={(e) => setChosen(e.target.checked ? [...chosen, p.id] : chosen.filter((x) => x !== p.id))} /> {p.name}</label>)}</div>{at('products')}</fieldset>
        <div className="grid grid-cols-[220px_1fr] items-start gap-3">
          <label className="block font-semibold text-ink2">Then<select value={outcome.do === 'approve' ? outcome.timing : outcome.do} onChange={(e) => { const v = e.target.value; setOutcome(v === 'decline' ? { do: 'decline', reason: outcome.reason ?? '' } : v === 'person' ? { do: 'person' } : { do: 'approve', timing: v as 'at-sale' | 'after-hold' }); }} className={field}><option value="after-hold">approve, after hold</option><option value="at-sale">approve, at sale</option><option value="decline">decline</option><option value="person">leave it to a person</option></select></label>
          {outcome.do === 'decline' && <label className="block font-semibold text-ink2">Reason, which the applicant reads<input value={outcome.reason ?? ''} maxLength={500} onChange={(e) => setOutcome({ do: 'decline', reason: e.target.value })} placeholder="We are looking for people with a site of their own" className={field} />{at('reason')}</label>}
        </div>
        <DialogFoot><Button onClick={onClose}>Leave it</Button><Button type="submit" look="main" busy={make.isPending || edit.isPending}>{rule ? 'Save' : 'Add the rule'}</Button></DialogFoot>
      </form>
    </Dialog>
  );
}
