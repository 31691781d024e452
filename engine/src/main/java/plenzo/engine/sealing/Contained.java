package plenzo.engine.sealing;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.Tools;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Adoption;
import plenzo.engine.setup.SiteLook;

/** What one component holds at a source, read before it is picked or sealed. */
public final class Contained {
  /** Rows of each sort that are read for people. */
  private static final int MOST = 50;

  private final Tools tools;
  private final Adoption adoption;
  private final Sources sources;
  private final Versions versions;
  private final Contents contents;

  public Contained(Tools tools, Adoption adoption, Sources sources, Versions versions) {
    this.tools = tools;
    this.adoption = adoption;
    this.sources = sources;
    this.versions = versions;
    this.contents = new Contents(tools);
  }

  /**
   * A component as it is at the source.
   *
   * @param content its canonical content, which the content store opens
   * @param rows how many rows it has; 0 of what has none
   * @param against what differs from the version, nothing when it is the same there
   * @param differing the first rows that differ
   */
  public record Read(
      ComponentKey key,
      Digest content,
      long rows,
      int keyColumns,
      @Nullable ComponentResult against,
      List<RowDifference> differing) {}

  /**
   * @throws plenzo.core.problem.Problem when it is not there, or cannot be carried
   */
  public Read read(Person by, String application, SiteKey site, ComponentKey key, SemVer since) {
    Rights.require(by, Right.LOOK, Sources.stage(site), application);
    Version version = tools.keeper().read(kept -> kept.versions().get(application, since));
    VersionEntry was;
    VersionEntry is;
    try (SiteLook look = sources.open(application, site)) {
      was = contents.renamed(version, sources.renamed(look, version)).entry(key).orElse(null);
      RecordsDefinition records = key.kind() == Kind.RECORDS && was != null ? was.records() : null;
      is =
          adoption.read(
              look,
              new Adoption.Pick(key, records, /* generatedKeyConfirmed= */ true),
              was == null ? "" : was.uid(),
              site.toString());
    }
    List<RowDifference> differing = new ArrayList<>();
    ComponentResult against = versions.difference(key, was, is, differing, MOST);
    return new Read(
        key,
        is.content(),
        is.rows(),
        key.kind() == Kind.RECORDS ? Objects.requireNonNull(is.records()).key().size() : 0,
        against,
        differing);
  }
}
