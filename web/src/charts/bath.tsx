import type { Schemas } from "../shared/api/client";
import { useUnits } from "../shared/format/units";

const WIDTH = 300;
const HEIGHT = 230;
const VESSEL = { left: 70, right: 290, top: 14, bottom: 216 };
const WARMEST = 10;
const COLDEST = -24;
const PIECE = 15;
/** Loose ice leaves air between its pieces, so that a kilo of it takes up this many litres. */
const LOOSE_L_PER_KG = 1.7;

type Props = { moment: Schemas["BathMoment"]; waterG: number; saltG: number };

/** Ice, salt that has not dissolved and brine in their vessel, each to scale, beside the thermometer of the bath. */
export function Bath({ moment, waterG, saltG }: Props) {
  const units = useUnits();
  const room = VESSEL.bottom - VESSEL.top - 10;
  const brineG = waterG - moment.ice_left_g + saltG - moment.salt_left_g;
  const whole = LOOSE_L_PER_KG * waterG + saltG || 1;
  const heights = {
    salt: (room * moment.salt_left_g) / whole,
    brine: (room * Math.max(brineG, 0)) / whole,
    ice: (room * LOOSE_L_PER_KG * moment.ice_left_g) / whole,
  };
  const saltTop = VESSEL.bottom - heights.salt;
  const brineTop = saltTop - heights.brine;
  const iceTop = brineTop - heights.ice;
  const said = `${units.mass(moment.ice_left_g)} of ice, ${units.mass(moment.salt_left_g)} of salt not dissolved, ${units.mass(Math.max(brineG, 0))} of brine at ${units.temperature(moment.t_c)}`;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full max-w-80" role="img" aria-label={said}>
      <Scale celsius={moment.t_c} />
      <rect x={VESSEL.left} y={brineTop} width={VESSEL.right - VESSEL.left} height={heights.brine} fill="var(--water)" />
      <rect x={VESSEL.left} y={saltTop} width={VESSEL.right - VESSEL.left} height={heights.salt} fill="var(--milk-solids)" />
      <Pieces top={iceTop} bottom={brineTop} />
      <path
        d={`M${VESSEL.left} ${VESSEL.top}V${VESSEL.bottom}H${VESSEL.right}V${VESSEL.top}`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="2"
      />
      <g fontSize="12" className="halo" fill="var(--ink)">
        {heights.ice > 16 && (
          <text x={VESSEL.left + 8} y={(iceTop + brineTop) / 2 + 4}>
            {units.mass(moment.ice_left_g)} ice
          </text>
        )}
        {heights.brine > 14 && (
          <text x={VESSEL.left + 8} y={(brineTop + saltTop) / 2 + 4}>
            {units.mass(brineG)} {saltG > 0 ? `brine, ${units.number(moment.brine_pct, 1)} % salt` : "water"}
          </text>
        )}
        {heights.salt > 12 && (
          <text x={VESSEL.left + 8} y={(saltTop + VESSEL.bottom) / 2 + 4}>
            {units.mass(moment.salt_left_g)} salt, not dissolved
          </text>
        )}
      </g>
    </svg>
  );
}

function Scale({ celsius }: { celsius: number }) {
  const units = useUnits();
  const y = (at: number) => VESSEL.top + ((VESSEL.bottom - VESSEL.top) * (WARMEST - Math.min(at, WARMEST))) / (WARMEST - COLDEST);
  return (
    <g fontSize="12" fill="var(--muted)">
      <line x1="44" x2="44" y1={VESSEL.top} y2={VESSEL.bottom} stroke="var(--ink)" strokeWidth="1.5" />
      {units.ticks(WARMEST, COLDEST).filter((tick) => Math.abs(tick - celsius) > 1.6).map((tick) => (
        <text key={tick} x="38" y={y(tick) + 4} textAnchor="end">
          {units.degrees(tick, 0)}
        </text>
      ))}
      <line x1="36" x2={VESSEL.left} y1={y(celsius)} y2={y(celsius)} stroke="var(--hot)" strokeWidth="2" />
      <text x="34" y={y(celsius) + 4} textAnchor="end" fontWeight="700" fill="var(--hot)">
        {units.degrees(celsius)}
      </text>
    </g>
  );
}

/** Loose pieces of ice, row by row. */
function Pieces({ top, bottom }: { top: number; bottom: number }) {
  const pieces = [];
  for (let y = bottom - PIECE; y > top - PIECE / 2; y -= PIECE) {
    const row = Math.round((bottom - y) / PIECE);
    for (let x = VESSEL.left + 4 + (row % 2) * 7; x < VESSEL.right - PIECE; x += PIECE + 2) {
      pieces.push(<rect key={`${x} ${y}`} x={x} y={Math.max(y, top)} width={PIECE - 3} height={PIECE - 4} rx="2" transform={`rotate(${((x * 7 + y * 13) % 24) - 12} ${x + 6} ${y + 6})`} fill="var(--ice)" opacity="0.55" />);
    }
  }
  return <>{pieces}</>;
}
