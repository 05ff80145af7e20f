/** The page at the door: shows a code to the server, and goes on to the shelf once it is good. */
const form = document.getElementById('pair') as HTMLFormElement;
const code = document.getElementById('code') as HTMLInputElement;
const called = document.getElementById('name') as HTMLInputElement;
const fault = document.getElementById('fault') as HTMLElement;
const submit = form.querySelector('button') as HTMLButtonElement;

const OFFLINE = 'The machine cannot be reached. See that this device is in the same network, then try again.';

function refuse(message: string): void {
  fault.textContent = message;
  submit.disabled = false;
}

async function pair(): Promise<void> {
  submit.disabled = true;
  fault.textContent = '';
  const shown = code.value.trim();
  try {
    const answer = await fetch('/pair', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ code: shown, ...(called.value.trim() && { name: called.value.trim() }) }),
    });
    if (answer.ok) return location.replace('/');
    const { message = 'The code was refused.', hint = '' } = (await answer.json().catch(() => ({}))) as { message?: string; hint?: string };
    refuse(`${message} ${hint}`);
  } catch {
    refuse(OFFLINE);
  }
}

/** A device that is paired already has nothing to do here: a link from another program comes without its cookie. */
async function begin(): Promise<void> {
  code.value = decodeURIComponent(location.hash.slice(1));
  // A code is good once: it is not to be found in the history.
  history.replaceState(null, '', '/pair');
  const known = await fetch('/api/phone/me').then(
    ({ ok }) => ok,
    () => false,
  );
  if (known) return location.replace('/');
  if (code.value) document.getElementById('lead')?.replaceChildren('The code was read. Give this device a name if you like, then pair it.');
}

form.addEventListener('submit', (event) => {
  event.preventDefault();
  pair().catch(() => refuse(OFFLINE));
});
// A link that is opened over this page only changes what stands behind the hash.
const beginAnew = (): void => {
  begin().catch(() => refuse(OFFLINE));
};
window.addEventListener('hashchange', () => location.hash.length > 1 && beginAnew());
beginAnew();

export {};
