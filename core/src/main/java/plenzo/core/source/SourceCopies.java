package plenzo.core.source;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;

/**
 * Copies that Plenzo keeps of what an editing stage holds of an application, so that no source is
 * ever lost, and how often one is taken.
 *
 * @param every days between two; 0 when none is taken by itself
 * @param copies the newest first
 * @param trouble why the last one could not be taken; empty when it could
 * @param tried when one was last tried, by anybody; null before the first
 */
public record SourceCopies(
    String application,
    int every,
    List<Copy> copies,
    String trouble,
    @Nullable Instant tried,
    int revision) {
  /** Most days between two. */
  public static final int RAREST = 90;

  public SourceCopies {
    if (every < 0 || every > RAREST) {
      throw new IllegalArgumentException(
          "A copy is taken every 1 to " + RAREST + " days, or not at all; got " + every);
    }
    copies = List.copyOf(copies);
  }

  /**
   * One copy: a ZIP file of component documents.
   *
   * @param id such as "C-12"
   * @param site where it was taken
   * @param leftOut what is there and no document can carry
   */
  public record Copy(
      String id,
      Instant at,
      String by,
      String site,
      long bytes,
      Digest digest,
      List<String> leftOut) {
    public Copy {
      leftOut = List.copyOf(leftOut);
    }

    /** Where its bytes lie. */
    public String file() {
      return file(id);
    }

    /** Where the bytes of the one with this id lie. */
    public static String file(String id) {
      return "copy/" + id + ".zip";
    }
  }

  public static SourceCopies none(String application) {
    return new SourceCopies(application, 0, List.of(), "", null, 0);
  }

  public Optional<Copy> newest() {
    return copies.stream().findFirst();
  }

  public SourceCopies taking(int days) {
    return new SourceCopies(application, days, copies, trouble, tried, revision);
  }

  public SourceCopies with(Copy copy) {
    List<Copy> all = new ArrayList<>(copies);
    all.add(0, copy);
    return new SourceCopies(application, every, all, "", copy.at(), revision);
  }

  public SourceCopies failed(String why, Instant at) {
    return new SourceCopies(application, every, copies, why, at, revision);
  }

  /** Without one whose file was cleared. */
  public SourceCopies without(String id) {
    return new SourceCopies(
        application,
        every,
        copies.stream().filter(c -> !c.id().equals(id)).toList(),
        trouble,
        tried,
        revision);
  }

  /** Whether one is to be taken now; one that failed is tried again after an hour. */
  public boolean due(Instant now) {
    return every > 0
        && newest().map(c -> !c.at().plus(Duration.ofDays(every)).isAfter(now)).orElse(true)
        && (tried == null || trouble.isEmpty() || tried.plus(Duration.ofHours(1)).isBefore(now));
  }

  /** What people should know; empty when a copy is as young as it should be, or none is wanted. */
  public String warning(Instant now) {
    if (every == 0) {
      return "";
    }
    String why = trouble.isEmpty() ? "" : ": " + trouble;
    return newest()
        .map(
            c ->
                c.at().plus(Duration.ofDays(2L * every)).isBefore(now)
                    ? "The newest copy of its source is of "
                        + c.at().toString().substring(0, 10)
                        + " and should be taken every "
                        + (every == 1 ? "day" : every + " days")
                        + why
                    : "")
        .orElse(trouble.isEmpty() ? "" : "No copy of its source could be taken yet" + why);
  }
}
