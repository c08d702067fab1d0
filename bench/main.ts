// Benchmarks: each prints one line of JSON with a ratio to a limit measured in the same run. They end by themselves.
import { benchHttp } from './http';
import { benchResolve } from './resolve';

const wanted = process.argv[2];
if (wanted !== 'http') benchResolve();
if (wanted !== 'resolve') await benchHttp();
