/**
 * Small changes of the core, each of which makes something of it wrong: the file in `packages/core/src`, what stands
 * there (once), and what is put there instead.
 */
export const MUTATIONS = [
  // What was sent, and what is known of it.
  ['engine/live/sending.ts', '  forgetReloaded(live, plan);\n', ''],
  ['engine/live/sending.ts', '  endRamps(live, plan);\n', ''],
  ['engine/live/sending.ts', 'leftAtMs + planned.latencyMs + settleMs', 'leftAtMs + settleMs'],
  ['engine/live/sending.ts', 'if (staying.length < state.pending.length)', 'if (staying.length < 0)'],
  ['engine/live/sending.ts', 'state.sounding.filter((n) => !same(n))', 'state.sounding.filter(() => true)'],
  ['engine/live/sending.ts', 'else if (fn.reserved)', 'else if (fn.reserved && value < 0)'],
  [
    'engine/live/sending.ts',
    'else if (!isInForce(device, fn))',
    'else if (value < 0 && !isInForce(device, fn))',
  ],
  ['engine/live/sending.ts', 'p.atMs < listensFromMs;', 'p.atMs < 0;'],
  [
    'engine/live/sending.ts',
    '.map((p) => (isEarly(p) ? { ...p, atMs: listensFromMs } : p))',
    '.map((p) => p)',
  ],
  // Plans.
  ['show/recallPlan.ts', "mode === 'all' || fn.shape.kind === 'trigger' ||", "mode === 'all' ||"],
  ['show/recallPlan.ts', 'queue.listensFromMs = landsAtMs + fn.settleMs', 'queue.listensFromMs = landsAtMs'],
  ['show/recallPlan.ts', 'const landsAtMs = leftAtMs + path.latencyMs;', 'const landsAtMs = leftAtMs;'],
  ['show/recallPlan.ts', '    portFree.set(path.portId, leftAtMs);\n', ''],
  [
    'show/recallPlan.ts',
    '(reloading ??= new Set()).add(target.reached.device.id);',
    'reloading ??= new Set();',
  ],
  ['show/recallPlan.ts', 'place < best.places[best.done]!', 'place > best.places[best.done]!'],
  ['show/recallPlan.ts', 'Math.max(knowledge.nowMs, knowledge.listensFromMs(deviceId))', 'knowledge.nowMs'],
  ['show/recallPlan.ts', 'Math.max(atMs, freeAt) + wireMs', 'atMs + wireMs'],
  [
    'show/recallPlan.ts',
    "if (fn.drive.kind === 'program') (reloaded",
    "if (fn.drive.kind === 'note') (reloaded",
  ],
  // Gestures.
  ['floor/gesture.ts', 'wants.hold && wants.holdCancelsPress ? null', 'wants.hold ? null'],
  ['floor/gesture.ts', 'isPending: now.isPending && !wants.holdCancelsPress', 'isPending: now.isPending'],
  ['floor/gesture.ts', 'press.atMs <= hold.atMs ? press : hold', 'press.atMs <= hold.atMs ? hold : press'],
  [
    'floor/gesture.ts',
    "state.hasFired ? [{ gesture: 'release', atMs }] : []",
    "[{ gesture: 'release', atMs }]",
  ],
  ['floor/gesture.ts', 'state.downAtMs + wants.holdMs', 'state.downAtMs + wants.doubleMs'],
  ['floor/debounce.ts', 'atMs - contact.sinceMs < debounceMs', 'atMs - contact.sinceMs <= debounceMs'],
  ['floor/debounce.ts', 'contact: { ...contact, raw: isDown }', 'contact: { ...contact }'],
  ['engine/switches.ts', '    endNotes(live, control.id);\n  }\n', '  }\n'],
  ['engine/switches.ts', '  if (!isDown) endNotes(live, control.id);\n', ''],
  ['engine/switches.ts', 'if (held && held.assignment !== now)', 'if (held && !held)'],
  ['engine/switches.ts', '  if (taps) pressSwitch(live, entry, false, 0);\n', ''],
  [
    'engine/switches.ts',
    'live.state.delayed.filter((d) => d.action.id !== action.id)',
    '[...live.state.delayed]',
  ],
  // Actions.
  ['engine/actions.ts', 'delay.amount * beatMs', 'delay.amount'],
  ['engine/actions.ts', "(to.kind === 'up' ? 1 : -1)", "(to.kind === 'up' ? -1 : 1)"],
  ['engine/actions.ts', "atEnd === 'stop' ? values[at]!", "atEnd !== 'stop' ? values[at]!"],
  ['engine/actions.ts', 'live.know(reached.fn.id, value);', 'void value;'],
  ['engine/actions.ts', 'if (!isDown) send(live, portId, noteOff', 'if (isDown) send(live, portId, noteOff'],
  ['engine/actions.ts', 'preset || !kind || struck === 0', 'preset || !kind || struck >= 0'],
  ['engine/arming.ts', 'fn.arms !== chosen.fn.arms', 'fn.arms !== null'],
  ['engine/arming.ts', 'armed < 0 ? tracks.length - 1 :', ''],
  // Scenes and songs.
  [
    'engine/navigate.ts',
    "reached.fn.shape.kind !== 'trigger' || setIn === sceneIndex",
    'reached.fn.id !== null',
  ],
  ['engine/navigate.ts', "goToSong(live, songIndex - 1, 'last')", "goToSong(live, songIndex - 1, 'first')"],
  ['engine/navigate.ts', 'if (entryId !== state.position.entryId ||', 'if (entryId !== null ||'],
  ['engine/navigate.ts', '  live.tellsLamps = true;\n', ''],
  // What is heard.
  ['engine/step.ts', ' && !endsHeld(live, portId, message)', ''],
  [
    'engine/step.ts',
    "message.kind === 'poly-pressure' || message.kind === 'channel-pressure'",
    "message.kind === 'poly-pressure'",
  ],
  ['engine/moves.ts', 'if (atMs + FINE_WITHIN_MS > live.nowMs) continue;', ''],
  ['engine/moves.ts', 'share > toeAt - hysteresis', 'share > toeAt'],
  ['engine/moves.ts', 'now === null || !wasHeard ? []', 'now === null ? []'],
  ['engine/moves.ts', '(channel ?? board.device.channel) !== message.channel', 'message.channel > 15'],
  ['floor/takeOver.ts', '<= 0 ? now : null', '< 0 ? now : null'],
  ['floor/takeOver.ts', 'now > before ? move.high : move.low', 'now > before ? move.low : move.high'],
  // Time.
  ['engine/rampTimes.ts', 'share: shareAt(r, nowMs), sinceMs: nowMs', 'sinceMs: nowMs'],
  ['engine/ramps.ts', 'const share = isOver ? 1 :', 'const share = isOver ? 0.99 :'],
  ['engine/ramps.ts', '(isRunning ? now : action.from)', 'action.from'],
  ['engine/clocks.ts', 'live.lateUntilMs - live.nowMs > beatMs', 'live.lateUntilMs - live.nowMs > Infinity'],
  ['engine/clockTimes.ts', 'sinceMs: clockDueMs(c), bpm, sent: 0', 'sinceMs: c.sinceMs, bpm, sent: 0'],
  ['engine/live/due.ts', 'for (const portId in clocks) atMs', 'for (const portId in {}) atMs'],
  ['engine/panic.ts', '  live.state.ramps = [];\n', ''],
  ['engine/panic.ts', '  live.state.delayed = [];\n', ''],
  // Lamps.
  ['engine/lamps.ts', 'if (!action.isOff) return actionLit', 'return actionLit'],
  ['engine/lamps.ts', 'return isOnRamp(state, action.functionId);', 'return down;'],
  ['engine/lamps.ts', "action.to === 'stop' ? down : action.portId in state.clocks", 'down'],
  ['engine/live/lampUpdate.ts', 'if (isSame && !live.tellsLamps) continue;', 'if (isSame) continue;'],
  // Routes.
  ['routing/way.ts', '    this.keepWhatOthersHold(since);\n', ''],
  ['routing/way.ts', 'if (this.hasBegunElsewhere(portId, target)) continue;', ''],
  ['routing/way.ts', "if (route.after === 'stop') return;", ''],
  [
    'routing/way.ts',
    'if (count <= REPEATS_AT_MOST) return false;',
    'if (count < REPEATS_AT_MOST) return false;',
  ],
  ['routing/way.ts', 'const sent = endingLike(end, message);', 'const sent = end;'],
  ['routing/change.ts', 'Math.max(1, scale(velocity))', 'scale(velocity)'],
  ['routing/change.ts', 'if (number < 0 || number > 127) return null;', 'if (number < 0) return null;'],
  ['routing/change.ts', '(channel + change.channel.by + 32) % 16', '(channel + change.channel.by + 32) % 32'],
  ['routing/modulation.ts', 'fromShare + (1 - run.fromShare) *', 'fromShare + 1 *'],
  ['routing/modulation.ts', '1 - (1 - m.sustain) * applyCurve', '1 - m.sustain * applyCurve'],
];
