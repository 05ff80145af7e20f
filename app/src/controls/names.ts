/** A name that is to be seen, and the place that it belongs to. */
export interface Named {
  readonly name: string;
  /** The key that does the same. */
  readonly key: string | undefined;
  readonly box: { readonly left: number; readonly top: number; readonly width: number; readonly height: number };
}

/** A mouse or the keyboard's focus rests on something for so long before its name is seen; a finger holds it for so long. */
export const HOVER_MS = 250;
export const HOLD_MS = 450;
/** What is said after a first touch is seen for so long, or until the next one. */
const SAID_MS = 6000;
/** A finger that moves by more draws, and does not ask. */
const SLOP_PX = 8;

const CONTROLS = 'button, a[href], [role="button"], [role="radio"], [role="switch"], [role="tab"], [role="checkbox"], [role="link"]';

/** The control that something belongs to, with what it is called, if it shows a picture in the place of words, or a short word under it. */
function namedAt(target: EventTarget | null): { readonly element: Element; readonly named: Omit<Named, 'box'> } | undefined {
  const element = (target as Element | null)?.closest?.(CONTROLS);
  const name = element?.getAttribute('aria-label');
  if (!element || !name || (element.textContent?.trim() && !element.hasAttribute('data-icon'))) return undefined;
  return { element, named: { name, key: element.getAttribute('aria-keyshortcuts') ?? undefined } };
}

/**
 * Shows the names of controls that are pictures: while a mouse rests on one, while the keyboard's focus is on it, and while a finger holds it, which then does not press it. Ends when the function
 * that it returns is called.
 * @param show called with what is to be seen, or nothing.
 * @param first what something that was touched has to say besides, now that it is let go.
 */
export function followNames(
  page: EventTarget,
  show: (named: Named | undefined) => void,
  first: (target: EventTarget | null) => string | undefined = () => undefined,
): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let asked: Element | undefined;
  let press: { readonly element: Element; readonly x: number; readonly y: number; readonly at: number; asked: boolean } | undefined;
  let pressed: Named['box'] | undefined;

  const away = (): void => {
    clearTimeout(timer);
    if (asked) show(undefined);
    asked = undefined;
  };
  let said: ReturnType<typeof setTimeout> | undefined;
  const silent = (): void => {
    if (said) show(undefined);
    clearTimeout(said);
    said = undefined;
  };
  /** Says something beside a control where that was pressed, since it may be gone by then. */
  const say = (name: string, box: Named['box']): void => {
    show({ name, key: undefined, box });
    said = setTimeout(silent, SAID_MS);
  };
  const soon = (target: EventTarget | null, ms: number): void => {
    const found = namedAt(target);
    if (found?.element === asked && asked) return;
    away();
    if (!found || said) return;
    timer = setTimeout(() => {
      const { left, top, width, height } = found.element.getBoundingClientRect();
      // What was taken off the page meanwhile has no place.
      if (width === 0) return;
      asked = found.element;
      // Who works with a finger has no keys at hand.
      show({ name: found.named.name, key: ms === HOLD_MS ? undefined : found.named.key, box: { left, top, width, height } });
    }, ms);
  };
  /** What lies under the mouse moved: what is seen goes; what rests under it still is named where it is then. */
  const moved = (): void => {
    if (asked) away();
  };
  const over = (event: PointerEvent): void => {
    if (event.pointerType !== 'touch') soon(event.target, HOVER_MS);
  };
  const down = (event: PointerEvent): void => {
    away();
    silent();
    pressed = (event.target as Element | null)?.closest?.(CONTROLS)?.getBoundingClientRect();
    const found = event.pointerType === 'touch' ? namedAt(event.target) : undefined;
    press = found && { element: found.element, x: event.clientX, y: event.clientY, at: event.timeStamp, asked: false };
    if (found) soon(event.target, HOLD_MS);
  };
  const move = (event: PointerEvent): void => {
    if (!press || Math.hypot(event.clientX - press.x, event.clientY - press.y) <= SLOP_PX) return;
    press = undefined;
    away();
  };
  const up = (event: PointerEvent): void => {
    // By the times of the touch itself: a page that was busy must not take a tap for a question.
    if (press) press.asked = event.type === 'pointerup' && asked === press.element && event.timeStamp - press.at >= HOLD_MS;
    away();
    const words = event.type === 'pointerup' && !press?.asked ? first(event.target) : undefined;
    if (words !== undefined && pressed) say(words, pressed);
  };
  const click = (event: Event): void => {
    if (press?.asked && (event.target as Element | null)?.closest?.(CONTROLS) === press.element) {
      event.preventDefault();
      event.stopPropagation();
    }
    press = undefined;
  };
  const focus = (event: FocusEvent): void => {
    if ((event.target as Element).matches(':focus-visible')) soon(event.target, HOVER_MS);
  };
  const heard = Object.entries({
    pointerover: over,
    pointerdown: down,
    pointermove: move,
    pointerup: up,
    pointercancel: up,
    click,
    focusin: focus,
    focusout: away,
    keydown: () => (away(), silent()),
    wheel: moved,
    scroll: moved,
  }) as [string, EventListener][];
  for (const [name, act] of heard) page.addEventListener(name, act, { capture: true });
  return () => {
    away();
    silent();
    for (const [name, act] of heard) page.removeEventListener(name, act, { capture: true });
  };
}
