// Benchmarks: each prints one line of JSON with a ratio to a limit measured in the same run. They end by themselves.
import { benchEquip } from './equip';
import { benchHttp } from './http';
import { benchNotes } from './notes';
import { benchRecruiting } from './recruiting';
import { benchRehearse } from './rehearse';
import { benchResolve } from './resolve';
import { benchScale } from './scale';

const wanted = process.argv[2];
if (!wanted || wanted === 'resolve') benchResolve();
if (!wanted || wanted === 'rehearse') await benchRehearse();
if (!wanted || wanted === 'notes') benchNotes();
if (!wanted || wanted === 'recruiting') benchRecruiting();
if (!wanted || wanted === 'http') await benchHttp();
if (!wanted || wanted === 'equip') await benchEquip();
// on a folder that npm run demo:large makes: only where it is asked for
if (wanted === 'scale') await benchScale();
