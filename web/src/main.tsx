import "@fontsource/barlow-semi-condensed/latin-400.css";
import "@fontsource/barlow-semi-condensed/latin-500.css";
import "@fontsource/barlow-semi-condensed/latin-600.css";
import "@fontsource/ibm-plex-mono/latin-400.css";
import "./styles.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./app";
import { asciiDigits } from "./quantity/format";

/** Numbers are copied as another program reads them: plain digits, a plain minus, no thin spaces. */
document.addEventListener("copy", (event) => {
  const field = event.target instanceof HTMLInputElement ? event.target : null;
  const chosen = field
    ? field.value.slice(field.selectionStart ?? 0, field.selectionEnd ?? 0)
    : getSelection()?.toString();
  if (!chosen || !/[\u202f\u2009\u2212]/.test(chosen) || !event.clipboardData) return;
  event.clipboardData.setData("text/plain", asciiDigits(chosen));
  event.preventDefault();
});

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  );
