import { fireEvent, render, screen } from '@testing-library/react-native';
import { kindOf, type NumberParam } from '@bexlen/core';
import { Figure } from './Figure';
import { SoloButton, Switch } from './Switch';
import { Tape } from './Tape';
import { Fader } from './Fader';

const brightness = kindOf('tone').params['brightness'] as NumberParam;
const radius = kindOf('blur').params['radius'] as NumberParam;

describe('a figure', () => {
  const typeIn = (text: string, keep: (value: number) => void): void => {
    render(<Figure label="Radius" param={radius} value={0.01} edge={2400} onKeep={keep} />);
    fireEvent.press(screen.getByText('24 px'));
    fireEvent.changeText(screen.getByLabelText('Radius'), text);
    fireEvent(screen.getByLabelText('Radius'), 'submitEditing');
  };

  it('takes a typed length in pixels of the full-size photo', () => {
    const keep = jest.fn();
    typeIn('36', keep);
    expect(keep).toHaveBeenCalledWith(36 / 2400);
  });
  it('holds what is too much at the end of the range', () => {
    const keep = jest.fn();
    typeIn('99999', keep);
    expect(keep).toHaveBeenCalledWith(radius.max);
  });
  it('changes nothing for what is no number', () => {
    const keep = jest.fn();
    typeIn('wide', keep);
    expect(keep).not.toHaveBeenCalled();
    expect(screen.getByText('24 px')).toBeTruthy();
  });
});

describe('a tape', () => {
  it('renames by a tap where its channel is open', () => {
    const rename = jest.fn();
    render(<Tape name="Blur" onRename={rename} />);
    fireEvent.press(screen.getByLabelText('Rename Blur'));
    fireEvent.changeText(screen.getByLabelText('Name of the layer'), '  Haze over the river ');
    fireEvent(screen.getByLabelText('Name of the layer'), 'submitEditing');
    expect(rename).toHaveBeenCalledWith('Haze over the river');
  });
  it('keeps its name when nothing is typed', () => {
    const rename = jest.fn();
    render(<Tape name="Blur" onRename={rename} />);
    fireEvent.press(screen.getByLabelText('Rename Blur'));
    fireEvent.changeText(screen.getByLabelText('Name of the layer'), '   ');
    fireEvent(screen.getByLabelText('Name of the layer'), 'blur');
    expect(rename).not.toHaveBeenCalled();
    expect(screen.getByText('Blur')).toBeTruthy();
  });
});

it('a switch and a solo button say what they are and do one thing', () => {
  const [toggle, solo] = [jest.fn(), jest.fn()];
  render(
    <>
      <Switch label="Blur on" on onToggle={toggle} />
      <SoloButton name="Blur" on={false} onToggle={solo} />
    </>,
  );
  fireEvent.press(screen.getByLabelText('Blur on'));
  fireEvent.press(screen.getByLabelText('Solo Blur'));
  expect([toggle.mock.calls.length, solo.mock.calls.length]).toEqual([1, 1]);
});

it('a fader is a slider with its range and its figure in words', () => {
  render(
    <Fader id="b" label="Brightness of Tone" param={brightness} value={-0.25} edge={2400} family="tone" onShow={jest.fn()} onKeep={jest.fn()} />,
  );
  const fader = screen.getByLabelText('Brightness of Tone');
  expect(fader.props).toMatchObject({
    role: 'slider',
    'aria-valuemin': -1,
    'aria-valuemax': 1,
    'aria-valuenow': -0.25,
    'aria-valuetext': '\u221225 %',
  });
});
