package plenzo.packages;

/**
 * The parts of the ZIP format that a package uses (PKWARE APPNOTE 6.3): stored or deflated entries,
 * ZIP64 where sizes need it, names in UTF-8, one fixed time, no comments, no descriptors, no
 * encryption.
 */
final class Zip {
  static final int LOCAL = 0x04034b50;
  static final int CENTRAL = 0x02014b50;
  static final int END = 0x06054b50;
  static final int END64 = 0x06064b50;
  static final int LOCATOR64 = 0x07064b50;

  static final int LOCAL_LENGTH = 30;
  static final int CENTRAL_LENGTH = 46;
  static final int END_LENGTH = 22;
  static final int END64_LENGTH = 56;
  static final int LOCATOR64_LENGTH = 20;

  /** Needed version 4.5, which knows ZIP64. */
  static final int VERSION = 45;

  /** Names are UTF-8; no other flag is allowed. */
  static final int FLAGS = 0x0800;

  static final int STORED = 0;
  static final int DEFLATED = 8;

  /** 1 January 1980, 00:00: the first time that the format knows, the same in every package. */
  static final int DATE = 0x0021;

  static final int TIME = 0;

  /** A size or offset of this value stands in the ZIP64 field. */
  static final long IN_64 = 0xffffffffL;

  /** Identifier of the ZIP64 extra field. */
  static final int EXTRA64 = 0x0001;

  private Zip() {}
}
