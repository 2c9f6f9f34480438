from caddet.cli import main

raise SystemExit(main())
