/** One line of a device: outward, inward, or in a zone of its own. */
export interface DeviceInterface {
  readonly name: string;
  readonly side: 'outside' | 'inside';
  /** Zone firewalls only; the side's name where it is missing. */
  readonly zone?: string;
  /** `203.0.113.50/29`; without a length, `/32` outside and `/24` inside. */
  readonly addresses?: readonly string[];
  /** The next router outward. */
  readonly gateway?: string;
  /** False: the line is down. */
  readonly up?: boolean;
  /**
   * Whether the carrier of this line drops packets with a source address that is not the line's own (BCP 38).
   * Missing: not known, and asked where an answer would leave by the wrong line.
   */
  readonly filtersSources?: boolean;
}
