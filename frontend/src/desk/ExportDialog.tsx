import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  LinearProgress,
  MenuItem,
  Switch,
  TextField,
} from "@mui/material";
import { useEffect, useState } from "react";
import { api, exportFileUrl } from "../api/client";
import type { ExportOptions, ExportView } from "../api/types";
import { NumberField } from "./NumberField";
import { Soft } from "./Soft";
import { useDesk, useScene } from "./state";

const FORMATS: [ExportOptions["format"], string, string][] = [
  [
    "animated-svg",
    "Animated SVG",
    "One vector file that plays by itself in a browser and loops. Sharp at every size.",
  ],
  ["mp4", "Film (MP4)", "H.264, for any player and film editor. The paper is always painted."],
  ["webm", "Film (WebM)", "VP9, for pages. Without the paper, what is not drawn on is see-through."],
  ["gif", "GIF", "A loop for any page or message. 256 colours a frame."],
  ["apng", "Animated PNG", "A loop with all colours and clear edges."],
  ["png-sequence", "PNG pictures (zip)", "One picture a frame, for a film editor."],
  ["svg-sequence", "SVG pictures (zip)", "One vector drawing a frame, every shape one path."],
  ["exposure-sheet", "Exposure sheet (CSV)", "A table: which drawing each layer shows at each frame."],
];

export function ExportDialog({ onClose }: { onClose: () => void }) {
  const scene = useScene();
  const loop = useDesk((s) => s.loop);
  const thereAndBack = useDesk((s) => s.thereAndBack);
  const [options, setOptions] = useState<ExportOptions>({
    format: "animated-svg",
    width: Math.min(4096, Math.round(scene.width)),
    first: loop?.[0] ?? 1,
    last: loop?.[1] ?? scene.length,
    paper: true,
    there_and_back: thereAndBack,
  });
  const [job, setJob] = useState<ExportView | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const put = (changes: Partial<ExportOptions>) => {
    setOptions({ ...options, ...changes });
    setJob(null);
  };
  const seen = options.format !== "exposure-sheet";
  const going = job?.state === "waiting" || job?.state === "running";

  useEffect(() => {
    if (!job || !going) return;
    const look = async () => {
      try {
        setJob(await api.watchExport(job.id));
        setProblem(null);
      } catch (e) {
        setProblem((e as Error).message);
        setJob({ ...job }); // look again: the export goes on
      }
    };
    const timer = window.setTimeout(look, 300);
    return () => window.clearTimeout(timer);
  }, [job, going]);

  const begin = () => {
    setProblem(null);
    api.orderExport(scene.id, options).then(setJob, (e: Error) => setProblem(e.message));
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>Export {scene.name}</DialogTitle>
      <DialogContent>
        <TextField
          select
          fullWidth
          label="As"
          value={options.format}
          onChange={(event) => put({ format: event.target.value as ExportOptions["format"] })}
          sx={{ mt: 1 }}
        >
          {FORMATS.map(([value, label]) => (
            <MenuItem key={value} value={value}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        <Soft sx={{ pt: 0.75, fontSize: 13, minHeight: 44 }}>
          {FORMATS.find(([value]) => value === options.format)?.[2]}
        </Soft>
        <Box sx={{ display: "flex", gap: 1.5, pt: 1, alignItems: "center" }}>
          {seen && (
            <>
              <NumberField
                label="Width (px)"
                value={options.width}
                min={16}
                max={4096}
                width={100}
                onChange={(v) => put({ width: Math.round(v) })}
              />
              <Soft>× {Math.round((options.width * scene.height) / scene.width)}</Soft>
            </>
          )}
          <NumberField
            label="From"
            value={options.first}
            min={1}
            max={scene.length}
            onChange={(v) => put({ first: Math.round(v), last: Math.max(options.last, Math.round(v)) })}
          />
          <NumberField
            label="To"
            value={options.last}
            min={1}
            max={scene.length}
            onChange={(v) => put({ last: Math.round(v), first: Math.min(options.first, Math.round(v)) })}
          />
        </Box>
        <Box sx={{ pt: 1, pl: 0.75 }}>
          <FormControlLabel
            control={
              <Switch
                size="small"
                checked={options.there_and_back}
                onChange={(_, on) => put({ there_and_back: on })}
              />
            }
            label="There and back"
          />
          {seen && (
            <FormControlLabel
              control={
                <Switch
                  size="small"
                  checked={options.paper || options.format === "mp4"}
                  disabled={options.format === "mp4"}
                  onChange={(_, on) => put({ paper: on })}
                />
              }
              label="With the paper"
            />
          )}
        </Box>
        {job && going && (
          <LinearProgress
            variant="determinate"
            value={job.progress * 100}
            sx={{ mt: 1.5 }}
            aria-label="Export progress"
          />
        )}
        {job?.state === "failed" && (
          <Alert severity="error" sx={{ mt: 1 }}>
            {job.message}
          </Alert>
        )}
        {job?.state === "cancelled" && (
          <Alert severity="info" sx={{ mt: 1 }}>
            Cancelled. Nothing was written.
          </Alert>
        )}
        {job?.state === "done" && (
          <Alert severity="success" sx={{ mt: 1 }} data-testid="export-done">
            {job.file_name} is ready.
          </Alert>
        )}
        {problem && (
          <Alert severity="error" sx={{ mt: 1 }}>
            {problem}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Close
        </Button>
        {going ? (
          <Button
            color="error"
            variant="outlined"
            onClick={() => job && api.cancelExport(job.id).then(setJob, (e: Error) => setProblem(e.message))}
          >
            Cancel the export
          </Button>
        ) : job?.state === "done" ? (
          <Button variant="contained" href={exportFileUrl(job.id)} download={job.file_name}>
            Save the file
          </Button>
        ) : (
          <Button variant="contained" onClick={begin}>
            Export
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
