import { kindOf } from '../kinds';
import { stripValues, type NumberParam } from '.';

const contrast = kindOf('tone').params['contrast'] as NumberParam;
const midtone = kindOf('levels').params['midtone'] as NumberParam;

it('a strip has five different values in order, the one in force among them, all in range', () => {
  for (const param of [contrast, midtone])
    for (const value of [param.min, param.at, param.max, param.min + 0.3 * (param.max - param.min)])
      for (const span of [0.08, 0.32, 1]) {
        const values = stripValues(param, value, span);
        expect(values).toContain(value);
        expect(values).toHaveLength(5);
        expect([...values].sort((a, b) => a - b)).toEqual(values);
        values.forEach((v) => expect(v >= param.min && v <= param.max).toBe(true));
      }
});
