import { acts } from './acts';
import { print } from './print';
import { Stage } from './stage';

/**
 * The main job from set-up to a netted balance.
 * @returns how many figures differ from the ones written by hand
 */
export async function play(address: string, standins: string): Promise<number> {
  const stage = new Stage(address, standins);
  try {
    for (const [step, act] of acts) {
      stage.begin(step);
      await act(stage);
    }
  } catch (fault) {
    // what was reached is printed before the fault, so that the first difference is seen
    print(stage.rows);
    throw fault;
  }
  return print(stage.rows);
}
