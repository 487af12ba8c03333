import type { ComponentType } from "react";
import type { Geometry, Source, Step } from "../document/types";
import { BoxSentence } from "./shapes/BoxSentence";
import { ExtrudeSentence } from "./shapes/ExtrudeSentence";
import { ImportedSentence } from "./shapes/ImportedSentence";
import { PlaneSentence } from "./shapes/PlaneSentence";
import { RevolveSentence } from "./shapes/RevolveSentence";
import { RingSentence } from "./shapes/RingSentence";
import { SphereSentence } from "./shapes/SphereSentence";
import { SweepSentence } from "./shapes/SweepSentence";
import type { ShapeProps } from "./shapes/shape";
import { TextSentence } from "./shapes/TextSentence";
import { TubeSentence } from "./shapes/TubeSentence";
import { Across } from "./sources/Across";
import { Another } from "./sources/Another";
import { Around } from "./sources/Around";
import { Chance } from "./sources/Chance";
import { Contact } from "./sources/Contact";
import { Crests } from "./sources/Crests";
import type { ClauseProps } from "./sources/clause";
import { Eaten } from "./sources/Eaten";
import { Near } from "./sources/Near";
import { Noise } from "./sources/Noise";
import { Spread } from "./sources/Spread";
import { Surface } from "./sources/Surface";
import { Time } from "./sources/Time";
import { Within } from "./sources/Within";
import { CoatMore, CoatSentence } from "./steps/CoatSentence";
import { CutAwayMore, CutAwaySentence } from "./steps/CutAwaySentence";
import { BendSentence, DeformingMore, TaperSentence, TwistSentence } from "./steps/DeformingSentence";
import { ErodeMore, ErodeSentence } from "./steps/ErodeSentence";
import { FollowThroughMore, FollowThroughSentence } from "./steps/FollowThroughSentence";
import { FractureMore, FractureSentence } from "./steps/FractureSentence";
import { ImprintMore, ImprintSentence } from "./steps/ImprintSentence";
import { JumbleMore, JumbleSentence } from "./steps/JumbleSentence";
import { LieAlongMore, LieAlongSentence } from "./steps/LieAlongSentence";
import { MeldMore, MeldSentence } from "./steps/MeldSentence";
import { MorphMore, MorphSentence, PairMore, PairSentence } from "./steps/MorphSentence";
import { PushMore, PushSentence } from "./steps/PushSentence";
import { RefineMore, RefineSentence } from "./steps/RefineSentence";
import { ReleaseMore, ReleaseSentence } from "./steps/ReleaseSentence";
import { RideMore, RideSentence } from "./steps/RideSentence";
import { RippleMore, RippleSentence } from "./steps/RippleSentence";
import { ScatterMore, ScatterSentence } from "./steps/ScatterSentence";
import { ShadeMore, ShadeSentence } from "./steps/ShadeSentence";
import { ShedMore, ShedSentence } from "./steps/ShedSentence";
import { ShellsMore, ShellsSentence } from "./steps/ShellsSentence";
import { ShiftMore, ShiftSentence } from "./steps/ShiftSentence";
import { SliceMore, SliceSentence } from "./steps/SliceSentence";
import { SmoothMore, SmoothSentence } from "./steps/SmoothSentence";
import type { SentenceProps } from "./steps/sentence";
import { TrailMore, TrailSentence } from "./steps/TrailSentence";
import { WaveMore, WaveSentence } from "./steps/WaveSentence";
import { WireMore, WireSentence } from "./steps/WireSentence";

/** The sentences of all kinds of steps, sources and shapes. A new kind has its line here, and nowhere else in the page. */

type StepSentences = {
  [Kind in Step["kind"]]: {
    /** What the step does. */
    Sentence: ComponentType<SentenceProps<Kind>>;
    /** What unfolds beneath it. */
    More: ComponentType<SentenceProps<Kind>>;
  };
};

const STEPS: StepSentences = {
  bend: { Sentence: BendSentence, More: DeformingMore },
  coat: { Sentence: CoatSentence, More: CoatMore },
  cut_away: { Sentence: CutAwaySentence, More: CutAwayMore },
  erode: { Sentence: ErodeSentence, More: ErodeMore },
  follow_through: { Sentence: FollowThroughSentence, More: FollowThroughMore },
  fracture: { Sentence: FractureSentence, More: FractureMore },
  imprint: { Sentence: ImprintSentence, More: ImprintMore },
  jumble: { Sentence: JumbleSentence, More: JumbleMore },
  lie_along: { Sentence: LieAlongSentence, More: LieAlongMore },
  meld: { Sentence: MeldSentence, More: MeldMore },
  morph: { Sentence: MorphSentence, More: MorphMore },
  pair: { Sentence: PairSentence, More: PairMore },
  push: { Sentence: PushSentence, More: PushMore },
  refine: { Sentence: RefineSentence, More: RefineMore },
  release: { Sentence: ReleaseSentence, More: ReleaseMore },
  ride: { Sentence: RideSentence, More: RideMore },
  ripple: { Sentence: RippleSentence, More: RippleMore },
  scatter: { Sentence: ScatterSentence, More: ScatterMore },
  shade: { Sentence: ShadeSentence, More: ShadeMore },
  shed: { Sentence: ShedSentence, More: ShedMore },
  shells: { Sentence: ShellsSentence, More: ShellsMore },
  shift: { Sentence: ShiftSentence, More: ShiftMore },
  slice: { Sentence: SliceSentence, More: SliceMore },
  smooth: { Sentence: SmoothSentence, More: SmoothMore },
  taper: { Sentence: TaperSentence, More: DeformingMore },
  trail: { Sentence: TrailSentence, More: TrailMore },
  twist: { Sentence: TwistSentence, More: DeformingMore },
  wave: { Sentence: WaveSentence, More: WaveMore },
  wire: { Sentence: WireSentence, More: WireMore },
};

const SOURCES: { [Kind in Source["kind"]]: ComponentType<ClauseProps<Kind>> } = {
  across: Across,
  another: Another,
  around: Around,
  chance: Chance,
  contact: Contact,
  crests: Crests,
  eaten: Eaten,
  near: Near,
  noise: Noise,
  spread: Spread,
  surface: Surface,
  time: Time,
  within: Within,
};

const SHAPES: { [Kind in Geometry["kind"]]: ComponentType<ShapeProps<Kind>> } = {
  box: BoxSentence,
  extrude: ExtrudeSentence,
  imported: ImportedSentence,
  plane: PlaneSentence,
  revolve: RevolveSentence,
  ring: RingSentence,
  sphere: SphereSentence,
  sweep: SweepSentence,
  text: TextSentence,
  tube: TubeSentence,
};

type AnyStep = Omit<SentenceProps<Step["kind"]>, "step"> & { step: Step };
type AnySource = Omit<ClauseProps<Source["kind"]>, "source"> & { source: Source };

/** The sentence of a step, whichever it is. */
export function StepSentence(props: AnyStep) {
  const Sentence = STEPS[props.step.kind].Sentence as ComponentType<AnyStep>;
  return <Sentence {...props} />;
}

/** What unfolds beneath the sentence of a step. */
export function StepMore(props: AnyStep) {
  const More = STEPS[props.step.kind].More as ComponentType<AnyStep>;
  return <More {...props} />;
}

/** The sentence of a source. */
export function SourceClause(props: AnySource) {
  const Sentence = SOURCES[props.source.kind] as ComponentType<AnySource>;
  return <Sentence {...props} />;
}

/** The sentence of a shape. */
export function ShapeSentence(props: { pointer: string; geometry: Geometry }) {
  const Sentence = SHAPES[props.geometry.kind] as ComponentType<{ pointer: string; geometry: Geometry }>;
  return <Sentence {...props} />;
}
