import "@fontsource-variable/libre-franklin/index.css";
import "@fontsource-variable/newsreader/index.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { Refusal } from "./api/client";
import { preloadScreen } from "./screens";
import { speak } from "./shared/words";
import { applyTheme, storedTheme } from "./shared/theme";
import "./styles/theme.scss";

applyTheme(storedTheme());
// Days are counted as they are here, unless the teacher has set another place. A link on a phone
// gets no cookie.
if (!window.location.pathname.startsWith("/film/"))
  document.cookie = `sulvet-zone=${Intl.DateTimeFormat().resolvedOptions().timeZone}; path=/; samesite=lax`;

const client = new QueryClient({
  defaultOptions: {
    queries: {
      // A refusal stays one; only a lost connection is worth another try.
      retry: (count, error) => count < 2 && !(error instanceof Refusal && error.status > 0),
      refetchOnWindowFocus: false,
    },
  },
});

const root = document.getElementById("root");
if (!root) throw new Error("index.html has no #root");
// The server has written down which language it is; pages come after their words.
await speak(document.documentElement.lang);
const [{ App }] = await Promise.all([import("./App"), preloadScreen(window.location.pathname)]);
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
