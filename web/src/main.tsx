import { CssBaseline, ThemeProvider } from "@mui/material";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { FreshClient } from "./api/freshClient";
import { connect } from "./api/live";
import { App } from "./app/App";
import { theme } from "./theme/theme";
import { NoticeBoard } from "./ui/notice";

// Whether the browser believes to be on a network says nothing of this server: what is asked is asked, and a refusal said.
const client = new FreshClient({
  defaultOptions: {
    queries: { staleTime: 60_000, refetchOnWindowFocus: false, retry: 1, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});
connect(client);

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <ThemeProvider theme={theme} defaultMode="dark">
          <CssBaseline />
          <NoticeBoard>
            <BrowserRouter>
              <App />
            </BrowserRouter>
          </NoticeBoard>
        </ThemeProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
