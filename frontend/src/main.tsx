import { Alert, Button, CssBaseline, LinearProgress, Snackbar, ThemeProvider } from "@mui/material";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode, useEffect, useMemo, useState } from "react";
import { createRoot } from "react-dom/client";
import { Desk } from "./desk/Desk";
import { type Notice, usePicked } from "./desk/state";
import { Shelf } from "./scenes/Shelf";
import { themeOf } from "./theme/theme";

const client = new QueryClient({ defaultOptions: { queries: { retry: 3, refetchOnWindowFocus: false } } });

/** For how long, in milliseconds, a word is shown: longer where something can be done about it. */
const shownFor = ({ text, action }: Notice) => Math.max(action ? 10_000 : 6_000, 90 * text.length);

/** The scene that is open is the part of the address after '#'. */
function useSceneId(): string {
  const [id, setId] = useState(location.hash.slice(1));
  useEffect(() => {
    const changed = () => setId(location.hash.slice(1));
    window.addEventListener("hashchange", changed);
    return () => window.removeEventListener("hashchange", changed);
  }, []);
  return id;
}

function App() {
  const id = useSceneId();
  const { doc, notice, theme, open, close, set } = usePicked(
    "doc",
    "notice",
    "theme",
    "open",
    "close",
    "set",
  );
  const look = useMemo(() => themeOf(theme), [theme]);
  useEffect(() => {
    if (id) void open(id);
    else close();
  }, [id, open, close]);
  return (
    <ThemeProvider theme={look}>
      <CssBaseline />
      {id ? doc ? <Desk key={doc.scene.id} /> : <LinearProgress aria-label="Opening the scene" /> : <Shelf />}
      <Snackbar
        open={!!notice}
        autoHideDuration={notice?.kind === "info" ? shownFor(notice) : null}
        onClose={(_, reason) => reason === "timeout" && set({ notice: null })}
        anchorOrigin={{ vertical: "top", horizontal: "center" }}
        sx={{ mt: 5 }}
      >
        {notice ? (
          <Alert
            severity={notice.kind}
            variant="filled"
            onClose={() => set({ notice: null })}
            data-testid="notice"
            action={
              notice.action && (
                <Button
                  color="inherit"
                  size="small"
                  onClick={() => {
                    set({ notice: null });
                    notice.action?.run();
                  }}
                >
                  {notice.action.name}
                </Button>
              )
            }
          >
            {notice.text}
          </Alert>
        ) : undefined}
      </Snackbar>
    </ThemeProvider>
  );
}

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <App />
      </QueryClientProvider>
    </StrictMode>,
  );
