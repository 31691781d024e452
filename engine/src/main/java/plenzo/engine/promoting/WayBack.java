package plenzo.engine.promoting;

import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.RowsPolicy;
import plenzo.core.retention.Sort;
import plenzo.core.run.Run;
import plenzo.core.stage.SiteRecord;
import plenzo.core.table.PartDifference;
import plenzo.core.table.Renaming;
import plenzo.core.target.SiteDelta;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.way.Obstacle;
import plenzo.core.way.Unfit;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.backup.BackupIncoming;
import plenzo.engine.comparing.Before;
import plenzo.engine.comparing.Compared;
import plenzo.engine.comparing.Comparer;
import plenzo.engine.comparing.ComparisonFiles;
import plenzo.engine.comparing.Fitting;
import plenzo.engine.comparing.InUse;
import plenzo.engine.comparing.Incoming;
import plenzo.engine.comparing.Losses;
import plenzo.engine.comparing.RenamedBefore;
import plenzo.engine.comparing.ReturningIncoming;
import plenzo.engine.comparing.VersionIncoming;
import plenzo.engine.content.Contents;
import plenzo.engine.keeping.Cleared;
import plenzo.engine.setup.SiteLook;

/** What one rollback brings to its site, how rows are made to fit there, and what that loses. */
final class WayBack {
  /** The finding that counts what a way back takes away. */
  static final String ROWS_LOST = "rows-lost";

  private final Tools tools;
  private final Contents contents;
  private final Comparer comparer;
  private final Promotion p;
  private final SiteRecord record;
  private final @Nullable Run half;
  private final Version leaving;
  private final Incoming incoming;
  private final List<String> unreadable = new ArrayList<>();
  private @Nullable Fitting fitting;
  private final Function<SemVer, Renaming> names;
  private @Nullable List<Before> since;

  /**
   * @param half the run that stopped between its targets; null when the site is whole
   * @param leaving the version that is there, or came half
   * @param to the version that one goes back to
   * @param names from the names of a version to those of the one that one goes back to
   * @param undoing what versions since worked out from values
   */
  WayBack(
      Tools tools,
      Contents contents,
      Comparer comparer,
      Promotion p,
      SiteRecord record,
      @Nullable Run half,
      Version leaving,
      Version to,
      Function<SemVer, Renaming> names,
      ReturningIncoming.Undoing undoing) {
    this.names = names;
    Renaming renaming = names.apply(leaving.number());
    this.tools = tools;
    this.contents = contents;
    this.comparer = comparer;
    this.p = p;
    this.record = record;
    this.half = half;
    this.leaving = leaving;
    this.incoming =
        p.way() == Plan.Way.BACKUP
            ? backup().renamed(renaming).before(undoing.since())
            : new ReturningIncoming(
                contents, to, leaving, record.bases(), this::then, renaming, mirrored(to), undoing);
  }

  /** Records of a version that are a mirror, by other names. */
  static Set<ComponentKey> mirrored(Version version, Renaming names) {
    return version.entries().stream()
        .filter(e -> e.policy() == RowsPolicy.MIRROR)
        .map(e -> names.named(e.key()))
        .collect(Collectors.toSet());
  }

  /** The same of every version that was at the site since the one that one goes back to. */
  private Set<ComponentKey> mirrored(Version to) {
    Set<ComponentKey> out = new TreeSet<>(mirrored(leaving, names.apply(leaving.number())));
    List<SiteRecord.Placement> placements = record.placements();
    for (int n = placements.size() - 1; n >= 0; n--) {
      SemVer number = placements.get(n).version();
      if (number.equals(to.number())) {
        break;
      }
      tools
          .keeper()
          .read(kept -> kept.versions().find(p.application() + "@" + number))
          .ifPresent(v -> out.addAll(mirrored(v, names.apply(number))));
    }
    return out;
  }

  Incoming incoming() {
    return incoming;
  }

  /** The backup to go back to, every row of it read first: a damaged one is never put back. */
  private BackupIncoming backup() {
    Run.Backup backup =
        tools
            .keeper()
            .read(kept -> kept.runs().find(String.valueOf(p.backupOf())))
            .map(Run::backup)
            .orElseThrow(() -> Problem.notFound("backup of run", String.valueOf(p.backupOf())));
    try {
      return read(backup);
    } catch (IllegalStateException | IllegalArgumentException | UncheckedIOException e) {
      throw Problem.stopped(
          "BACKUP_DAMAGED",
          "The backup " + backup.name() + " cannot be used: " + e.getMessage() + ".",
          "Go back by the earlier version, or put back another copy of the folder "
              + backup.file());
    }
  }

  private BackupIncoming read(Run.Backup backup) {
    BackupFile file = new BackupFile(tools.files(), backup.file());
    file.readBack(backup);
    return new BackupIncoming(file, backup);
  }

  /** The comparison with what makes rows fit an earlier structure; that of a backup needs none. */
  Compared fit(Compared compared, SiteLook look, Map<String, Decision> decisions) {
    fitting = fitting(compared, look, decisions);
    return fitting == null ? compared : fitting.fit();
  }

  private @Nullable Fitting fitting(
      Compared compared, SiteLook look, Map<String, Decision> decisions) {
    return look.findTables().isEmpty()
        ? null
        : new Fitting(
            comparer.files(),
            look.tables(),
            compared,
            p.way() == Plan.Way.EARLIER_VERSION ? this::since : null,
            decisions);
  }

  /** What the version being left brought and something else uses by now. */
  List<Obstacle.Use> inUse(Compared compared, SiteLook look) {
    return look.findTables().isEmpty() ? List.of() : InUse.of(compared, look.tables());
  }

  /** What rows of today do not fit; nothing when the site has no tables. */
  List<Unfit> unfit(Compared compared, SiteLook look) {
    return look.findTables().isEmpty()
        ? List.of()
        : Fitting.unfit(compared, look.tables(), p.version().text());
  }

  /** What is in the way, with what was chosen; rows first, then parts of structures. */
  List<Obstacle> obstacles(CaseWork.Choosing chosen, Compared compared, List<Finding> findings) {
    List<Obstacle.Use> uses = chosen.uses();
    Map<String, Decision> decisions = chosen.decisions();
    String version = leaving.number().text();
    Map<ComponentKey, List<Obstacle.Use>> by = new LinkedHashMap<>();
    uses.forEach(u -> by.computeIfAbsent(u.records(), k -> new ArrayList<>()).add(u));
    List<Obstacle> out = new ArrayList<>();
    by.forEach((records, all) -> out.add(Obstacle.of(records, all, decisions, version)));
    for (int n = 0; n < compared.components().size(); n++) {
      ComponentResult c = compared.components().get(n);
      if (c.counts().conflict() > 0) {
        out.add(
            Obstacle.ofMoved(
                c.key(),
                c.counts().conflict(),
                c.key().kind() == Kind.RECORDS ? moved(compared, n, decisions) : List.of(),
                decisions,
                version,
                p.version().text()));
      }
    }
    Set<String> blocked =
        findings.stream()
            .filter(f -> f.severity() == Severity.BLOCKER)
            .map(Finding::place)
            .collect(Collectors.toSet());
    for (Unfit u : chosen.unfit()) {
      boolean settled = !blocked.contains(u.at());
      out.add(Obstacle.ofUnfit(u, settled, decisions, version, p.version().text()));
    }
    Set<String> unfit = chosen.unfit().stream().map(Unfit::at).collect(Collectors.toSet());
    for (ComponentResult c : compared.components()) {
      for (PartDifference part : c.parts()) {
        String at = c.key() + "#" + part.path();
        if (c.key().kind() == Kind.TABLE && !unfit.contains(at)) {
          boolean stays = decisions.get(at) == Decision.KEEP;
          String inTheWay = inTheWay(c.key(), part, compared, findings);
          if (stays || !inTheWay.isEmpty()) {
            String sentence = inTheWay.isEmpty() ? at + " stays." : inTheWay;
            out.add(Obstacle.ofPart(at, sentence, decisions, version));
          }
        }
      }
    }
    return out;
  }

  /** What closes the way while a part is written, in words; empty when nothing does. */
  private static String inTheWay(
      ComponentKey table, PartDifference part, Compared compared, List<Finding> findings) {
    boolean whole = part.part() == PartDifference.Part.TABLE;
    boolean goes = part.difference() == Difference.REMOVED;
    if (!goes && (whole || !part.difference().writes())) {
      return "";
    }
    String place = whole ? table.toString() : table + "#" + part.path();
    return findings.stream()
        .filter(f -> f.severity() == Severity.BLOCKER)
        .filter(
            f ->
                f.place().equals(place)
                    || goes
                        && f.rule().equals("dependent-breaks")
                        && pointsAt(f.place(), table, part, compared))
        .map(Finding::sentence)
        .collect(Collectors.joining(" "));
  }

  /** The table as it was before the first run since the version that touched it. */
  private Optional<Before.Table> then(TableName table) {
    List<Before.Table> all = since().stream().flatMap(b -> b.table(table).stream()).toList();
    return all.isEmpty() ? Optional.empty() : Optional.of(all.get(all.size() - 1));
  }

  /** What was there before each run since the version, the newest first; read once. */
  private List<Before> since() {
    if (since == null) {
      since = backupsSince();
    }
    return since;
  }

  private List<Before> backupsSince() {
    List<Before> out = new ArrayList<>();
    if (half != null && half.backup() != null) {
      add(out, half, half.backup());
    }
    if (half != null && p.version().text().equals(half.before())) {
      return out;
    }
    List<SiteRecord.Placement> placements = record.placements();
    for (int n = placements.size() - 1; n >= 0; n--) {
      Long number = placements.get(n).run();
      Run run =
          number == null
              ? null
              : tools.keeper().read(kept -> kept.runs().find(String.valueOf(number))).orElse(null);
      if (run == null) {
        return List.of(); // the version was not left by a run
      }
      if (run.backup() != null) {
        add(out, run, run.backup());
      }
      if (p.version().text().equals(run.before())) {
        return out;
      }
    }
    return List.of();
  }

  private void add(List<Before> out, Run run, Run.Backup backup) {
    try {
      Renaming since = run.before() == null ? Renaming.NONE : names.apply(new SemVer(run.before()));
      out.add(RenamedBefore.of(read(backup), since));
    } catch (IllegalStateException | IllegalArgumentException | UncheckedIOException e) {
      String why =
          Cleared.of(tools, Sort.BACKUP, run.shown())
              .map(k -> "cleared at " + k.at() + " by " + k.by())
              .orElse(String.valueOf(e.getMessage()));
      unreadable.add(run.shown() + " (" + why + ")");
    }
  }

  /** What would be lost, also as findings. */
  Losses.Lost loss(Compared compared, SiteDelta delta, SiteLook look, List<Finding> findings) {
    if (incoming instanceof ReturningIncoming back && !back.unknown().isEmpty()) {
      findings.add(unknownBefore(back));
    }
    if (incoming instanceof ReturningIncoming back && !back.notBrought().isEmpty()) {
      findings.add(mirroredAway(back));
    }
    if (!unreadable.isEmpty()) {
      findings.add(backupUnreadable());
    }
    compared.returned().forEach(r -> findings.add(comesBack(r)));
    Losses.Lost loss = new Losses(comparer.files()).count(way(compared, delta, look));
    if (loss.rows() > 0) {
      findings.add(
          Finding.of(
              ROWS_LOST,
              Severity.RISK,
              p.site().toString(),
              loss.sentence(),
              loss.rows(),
              "Save them to a file first",
              loss.query()));
    }
    return loss;
  }

  /** The first rows that were changed on both sides, with what is done with each. */
  private List<Obstacle.Row> moved(Compared compared, int n, Map<String, Decision> decisions) {
    ComponentKey key = compared.components().get(n).key();
    List<Obstacle.Row> out = new ArrayList<>();
    try (ComparisonFiles.Reader rows =
        comparer.files().read(compared.id(), n, Difference.CONFLICT, 0)) {
      for (RowDifference row = rows.next();
          row != null && out.size() < Obstacle.MOST_SHOWN;
          row = rows.next()) {
        String line = row.any().keyLine();
        String at = key + "#row/" + line;
        out.add(
            new Obstacle.Row(
                at,
                line.replace("\"", ""),
                row.present() == null ? "removed since" : "changed since",
                decisions.getOrDefault(at, decisions.get(key.toString()))));
      }
    }
    return out;
  }

  /** Whether a place is a foreign key that points at the part. */
  private static boolean pointsAt(
      String place, ComponentKey table, PartDifference part, Compared compared) {
    return compared.tables().entrySet().stream()
        .flatMap(
            e ->
                e.getValue().foreignKeys().stream()
                    .filter(
                        k ->
                            place.equals("table/" + e.getKey() + "#constraint/" + k.name())
                                && TableName.of(table.name()).equals(k.references())))
        .anyMatch(
            k ->
                part.part() == PartDifference.Part.TABLE
                    || part.part() == PartDifference.Part.COLUMN
                        && k.referencedColumns().contains(part.name()));
  }

  /** Every value that would be lost, as CSV lines. */
  void lost(Compared compared, SiteDelta delta, SiteLook look, Consumer<String> line) {
    new Losses(comparer.files()).each(way(compared, delta, look), line);
  }

  private Losses.Way way(Compared compared, SiteDelta delta, SiteLook look) {
    return new Losses.Way(
        p,
        compared,
        delta.tables(),
        delta.itemDeltas(),
        look,
        VersionIncoming.called(contents, leaving, names.apply(leaving.number())),
        runDelta(),
        fitting);
  }

  /**
   * The comparison of the run whose backup this goes back to, to tell its own changes from others'.
   */
  private @Nullable Promotion runDelta() {
    if (p.backupOf() == null) {
      return null;
    }
    return tools
        .keeper()
        .read(
            kept ->
                kept.runs()
                    .find(String.valueOf(p.backupOf()))
                    .flatMap(r -> kept.promotions().find(String.valueOf(r.promotion()))))
        .orElse(null);
  }

  private Finding unknownBefore(ReturningIncoming back) {
    return Finding.said(
        "before-unknown",
        Severity.RISK,
        p.site().toString(),
        back.unknown().stream().map(ComponentKey::toString).collect(Collectors.joining(", "))
            + " stays as it is: "
            + p.version()
            + " says nothing of it, and what was there before it was carried was not kept.",
        "Go back by the backup, or put it right at the site");
  }

  private Finding mirroredAway(ReturningIncoming back) {
    return Finding.said(
        "mirrored-away",
        Severity.RISK,
        p.site().toString(),
        "What a mirror took away of "
            + back.notBrought().stream()
                .map(ComponentKey::toString)
                .collect(Collectors.joining(", "))
            + " does not come back by the earlier version: the backup tells rows apart by the primary key, the version by other columns.",
        "Go back by the backup, or bring the rows in from it afterwards");
  }

  /** What is written beside the version's own rows is said as well. */
  private static Finding comesBack(Compared.Returned r) {
    String rows = Words.count(r.rows(), "row");
    return Finding.of(
        "comes-back",
        Severity.NOTE,
        "table/" + r.table() + (r.column().isEmpty() ? "" : "#column/" + r.column()),
        r.column().isEmpty()
            ? rows
                + " of "
                + r.table()
                + (r.rows() == 1 ? " comes" : " come")
                + " back from the backup of before it was dropped."
            : rows
                + " of "
                + r.table()
                + (r.rows() == 1 ? " gets" : " get")
                + " back what "
                + r.column()
                + " held, from the backup of before it was dropped.",
        r.rows(),
        "Look at the rows that came since: they have no value there",
        null);
  }

  private Finding backupUnreadable() {
    return Finding.said(
        "backup-unreadable",
        Severity.RISK,
        p.site().toString(),
        "Values that were dropped since "
            + p.version()
            + " may not come back and are not counted: the backup of "
            + String.join(", ", unreadable)
            + " cannot be read.",
        "Put back another copy of the backup's folder first");
  }
}
