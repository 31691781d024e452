package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Stages with their sites and targets, connections, paths and applications. */
public interface Stages {
  /** Role is development, test or production; revision 0 for a new stage. */
  record StageView(
      String key,
      String name,
      String role,
      int position,
      String zone,
      int approvals,
      boolean needsVerdict,
      boolean needsProof,
      List<SiteView> sites,
      int revision) {}

  record SiteView(String key, List<TargetView> targets) {}

  /** Connections are named; scratch is empty when backups are only read back. */
  record TargetView(
      String key,
      String sort,
      List<String> schemas,
      String looking,
      String changing,
      String scratch) {}

  record ConnectionView(
      String stage,
      String name,
      String host,
      int port,
      String database,
      String account,
      String tls,
      boolean hasSecret,
      @Nullable Instant secretSetAt,
      @Nullable String secretSetBy,
      @Nullable TestView test,
      int revision) {}

  record TestView(Instant at, boolean good, List<ProbeView> probes) {}

  record ProbeView(String name, boolean good, String found, String advice) {}

  /** The secret is write-only; null leaves it. */
  record SaveConnection(
      String name,
      String host,
      int port,
      String database,
      String account,
      String tls,
      @Nullable String secret,
      int revision) {}

  record PathView(String key, String name, String source, List<String> legs) {}

  record ApplicationView(
      String id,
      String key,
      String name,
      String owner,
      String schema,
      String path,
      List<String> privateColumns) {}

  /** Private columns are written schema.table.column; their values are never shown. */
  record ChangeApplication(String name, String owner, List<String> privateColumns) {}

  record NewApplication(String key, String name, String owner, String schema, String path) {}

  record CandidateView(
      String table,
      long rows,
      List<String> key,
      String keyProblem,
      List<String> refusals,
      List<String> risks) {}

  /** Null key: the proposed one. */
  record PickView(
      String component,
      @Nullable List<String> key,
      @Nullable ConditionView condition,
      @Nullable Boolean generatedKeyConfirmed) {}

  /** A typed filter over rows: column, operator and value, or and/or/not over parts. */
  record ConditionView(
      String operator,
      @Nullable String column,
      @Nullable String value,
      @Nullable List<ConditionView> parts) {}

  record Adopt(String site, String number, String title, List<PickView> picks) {}

  record Match(String site, String number) {}
}
