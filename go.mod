module vespers

go 1.26.8
