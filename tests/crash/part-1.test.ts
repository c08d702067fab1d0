import { survives } from './rounds';

survives(0, 2);
