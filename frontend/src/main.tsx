import "@fontsource/barlow/latin-400.css";
import "@fontsource/barlow/latin-500.css";
import "@fontsource/barlow/latin-600.css";
import "@fontsource/barlow-semi-condensed/latin-500.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { StyleSheetManager } from "styled-components";
import { App } from "./app";
import { currentTheme, GlobalStyle, putOn } from "./theme";

const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce;
putOn(currentTheme());
const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StyleSheetManager nonce={nonce}>
      <QueryClientProvider client={new QueryClient()}>
        <GlobalStyle />
        <App />
      </QueryClientProvider>
    </StyleSheetManager>,
  );
}
