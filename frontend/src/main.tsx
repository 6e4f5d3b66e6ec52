import "@fontsource/barlow-condensed/latin-600.css";
import "@fontsource/barlow-condensed/latin-700.css";
import "@fontsource/barlow-semi-condensed/latin-400.css";
import "@fontsource/barlow-semi-condensed/latin-500.css";
import "@fontsource/barlow-semi-condensed/latin-600.css";
import "@fontsource/barlow-semi-condensed/latin-700.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { bringBack, keepFetched } from "./api/keptQueries";
import { queryClient } from "./api/queryClient";
import { App } from "./app/App";
import { keepInterface } from "./shared/newVersion";

const root = document.getElementById("root");
if (root) {
  void bringBack(queryClient).then(() => {
    keepFetched(queryClient);
    createRoot(root).render(
      <StrictMode>
        <App />
      </StrictMode>,
    );
  });
  keepInterface();
}
