package plenzo.cli;

import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import plenzo.api.Runs.BackupView;

@Command(
    name = "backup",
    description = "Copies taken before runs.",
    footer = {
      "",
      "Examples:",
      "  plenzo backup list --app fares",
      "  plenzo rollback ways fares@production/north"
    })
final class BackupCommand extends Group {
  @Command(name = "list", description = "All backups, newest first.")
  void list(@Option(names = "--app") @Nullable String app) {
    out()
        .list(
            "backups",
            api()
                .pages(
                    "/backups" + Api.query("application", app), BackupView.class, out().wanted()),
            List.of("backup", "run", "site", "rows", "bytes", "proof"),
            b ->
                List.of(
                    b.name(),
                    b.run(),
                    b.site(),
                    String.valueOf(b.rows()),
                    String.valueOf(b.bytes()),
                    b.proof()));
  }
}
