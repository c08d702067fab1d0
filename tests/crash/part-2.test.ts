import { survives } from './rounds';

survives(1, 2);
