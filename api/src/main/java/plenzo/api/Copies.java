package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Copies of what editing stages hold. */
public interface Copies {
  /**
   * @param every days between two; 0 when none is taken by itself
   * @param trouble why the last one could not be taken; empty when it could
   * @param warning what people should know; empty when the newest is as young as it should be
   * @param copies the newest first
   */
  record SourceCopiesView(
      int every,
      String trouble,
      @Nullable Instant tried,
      String warning,
      List<SourceCopyView> copies) {}

  /**
   * @param site where it was taken
   * @param digest SHA-256 of the file
   * @param leftOut what is there and no document can carry
   */
  record SourceCopyView(
      String id,
      Instant at,
      String by,
      String site,
      long bytes,
      String digest,
      List<String> leftOut) {}

  /**
   * @param every days between two; 0 for none by itself
   */
  record CopyEvery(int every) {}
}
