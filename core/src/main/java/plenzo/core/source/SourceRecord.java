package plenzo.core.source;

import java.time.Instant;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.version.SemVer;

/**
 * What Plenzo last saw of an application's source: its editing stage, or its repository.
 *
 * @param against newest version that it was compared with, null when there was none
 * @param changed components that are in no version as the source has them
 * @param since when such changes were first seen, null while there are none
 * @param trouble why it could not be looked at, or why a tag became no version; empty when all is
 *     well
 * @param tags every tag that was seen with its commit; null until tags are followed
 */
public record SourceRecord(
    String application,
    @Nullable SemVer against,
    long changed,
    @Nullable Instant since,
    @Nullable Instant lookedAt,
    String trouble,
    @Nullable Map<String, String> tags,
    int revision) {
  public SourceRecord {
    tags = tags == null ? null : new TreeMap<>(tags);
  }

  public static SourceRecord none(String application) {
    return new SourceRecord(application, null, 0, null, null, "", null, 0);
  }

  public SourceRecord looked(SemVer newest, long now, Instant at) {
    return new SourceRecord(
        application,
        newest,
        now,
        now == 0 ? null : since == null ? at : since,
        at,
        "",
        tags,
        revision);
  }

  public SourceRecord troubled(String why) {
    return new SourceRecord(application, against, changed, since, lookedAt, why, tags, revision);
  }

  public SourceRecord withTags(@Nullable Map<String, String> seen) {
    return new SourceRecord(
        application, against, changed, since, lookedAt, trouble, seen, revision);
  }
}
