import { Box, Paper, Typography } from "@mui/material";
import { Copy, Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { pictureUrl } from "../api/client";
import type { SceneCard } from "../api/types";
import { Action } from "../desk/Action";
import { Soft } from "../desk/Soft";

const STEPS = 12;

/** A scene on the shelf; its picture moves while the pointer is on it. */
export function SceneTile({
  scene,
  onCopy,
  onRemove,
}: {
  scene: SceneCard;
  onCopy: () => void;
  onRemove: () => void;
}) {
  const [hovered, setHovered] = useState(false);
  const [step, setStep] = useState(0);
  useEffect(() => {
    if (!hovered) return setStep(0);
    const timer = window.setInterval(
      () => setStep((n) => (n + 1) % STEPS),
      Math.max(80, (scene.length / scene.rate / STEPS) * 1000),
    );
    return () => window.clearInterval(timer);
  }, [hovered, scene.length, scene.rate]);
  const timer = useRef<number | undefined>(undefined);
  const rest = () => {
    timer.current = window.setTimeout(() => setHovered(true), 250); // who only passes by asks for nothing
  };
  const leave = () => {
    window.clearTimeout(timer.current);
    setHovered(false);
  };
  const frame = (n: number) => 1 + Math.floor((n * scene.length) / STEPS);
  const shown = hovered ? Array.from({ length: STEPS }, (_, n) => n) : [0];
  return (
    <Paper
      variant="outlined"
      data-testid="scene-tile"
      onMouseEnter={rest}
      onMouseLeave={leave}
      sx={{ overflow: "hidden" }}
    >
      <Box
        component="a"
        href={`#${scene.id}`}
        aria-label={`Open ${scene.name}`}
        sx={{ display: "block", position: "relative", aspectRatio: "16 / 9", bgcolor: "background.default" }}
      >
        {shown.map((n) => (
          <img
            key={n}
            src={pictureUrl(scene, frame(n))}
            alt=""
            style={{
              position: "absolute",
              inset: 0,
              width: "100%",
              height: "100%",
              objectFit: "contain",
              visibility: n === step ? "visible" : "hidden",
            }}
          />
        ))}
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", px: 1.5, py: 1 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography noWrap sx={{ fontWeight: 600, fontSize: 15 }}>
            {scene.name}
          </Typography>
          <Soft sx={{ fontSize: 12 }}>
            {Math.round(scene.width)} × {Math.round(scene.height)} · {scene.length} frames at {scene.rate} fps
          </Soft>
        </Box>
        <Action name={`Duplicate ${scene.name}`} onClick={onCopy}>
          <Copy size={18} />
        </Action>
        <Action name={`Delete ${scene.name}`} onClick={onRemove}>
          <Trash2 size={18} />
        </Action>
      </Box>
    </Paper>
  );
}
