/** Opens the browser's print dialogue on a list of two columns. What is printed stands beside the page, unseen on the screen (base.css), until the dialogue is closed. */
export function printList(title: string, lines: readonly (readonly [string, string])[]): void {
  const printed = document.createElement('section');
  printed.className = 'printed';
  const heading = document.createElement('h1');
  heading.textContent = title;
  const table = document.createElement('table');
  for (const line of lines) {
    const row = table.insertRow();
    for (const words of line) row.insertCell().textContent = words;
  }
  printed.append(heading, table);
  document.body.append(printed);
  window.addEventListener('afterprint', () => printed.remove(), { once: true });
  window.print();
}
