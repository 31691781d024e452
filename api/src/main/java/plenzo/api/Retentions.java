package plenzo.api;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** How long Plenzo's own files stay, what would go, and what stays by a note. */
public interface Retentions {
  /**
   * @param days by sort of file (backup, comparison, log, package, copy, evidence); what is not in
   *     it is kept for ever
   * @param daily whether what is old is cleared each day, without anybody asking
   * @param words the same for people
   */
  record RetentionView(Map<String, Integer> days, boolean daily, String words) {}

  /**
   * @param days by sort of file; what is left out is kept for ever
   * @param daily left out: no
   */
  record SetRetention(Map<String, Integer> days, @Nullable Boolean daily) {}

  /**
   * One thing that is old.
   *
   * @param id by which it is named, such as backup/R-7
   * @param of what it is of
   * @param why it goes, or what needs it
   */
  record StoredLine(
      String id, String sort, String of, Instant at, long bytes, boolean goes, String why) {}

  /**
   * What would go by the rules that were asked about.
   *
   * @param young how many things are not old, and are not listed
   * @param counted what goes, for people: "3 backups, 1 log"
   * @param digest of the list: clearing names it
   */
  record RetentionPreview(
      RetentionView rules,
      List<StoredLine> old,
      long young,
      String counted,
      long bytes,
      String digest) {}

  /**
   * @param expect digest of the list that was read
   */
  record ClearStored(String expect) {}

  /**
   * @param subject a run, a promotion (P-15), a package (K-1), a copy (C-3), a file of
   *     evidence (E-2) or a version (fares@2.4.0)
   * @param until the last day; null for ever
   */
  record KeepingNote(
      String subject, String reason, @Nullable LocalDate until, String by, Instant at) {}

  /**
   * @param until the last day, YYYY-MM-DD; left out: for ever
   */
  record KeepStored(String subject, String reason, @Nullable LocalDate until) {}
}
