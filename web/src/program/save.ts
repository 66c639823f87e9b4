/** Hand a text to the browser as a file. */
export function save(name: string, text: string, type = "text/plain") {
  hand(name, new Blob([text], { type: `${type};charset=utf-8` }));
}

/** Hand a file to the browser. */
export function hand(name: string, file: Blob) {
  const address = URL.createObjectURL(file);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 1000);
}
