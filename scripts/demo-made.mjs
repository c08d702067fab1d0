// Makes the demo that tests look at, where it is older than the build.
import { checkNode, demoMade, installed } from './lib/prepare.mjs';

checkNode();
installed();
demoMade();
